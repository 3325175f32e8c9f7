// Everything the bench can do by key or button, as data.
import type { Command } from '../../shared/commands/keys';

export const COMMANDS = {
  next: { id: 'next', label: 'Next open finding', keys: ['n'], shown: 'N' },
  previous: { id: 'previous', label: 'Previous open finding', keys: ['Shift+n'], shown: 'Shift N' },
  takeDonor: { id: 'takeDonor', label: 'Take the best donor of the finding in hand', keys: ['d'], shown: 'D' },
  dropBrush: { id: 'dropBrush', label: 'Put the brush away', keys: ['Escape'], shown: 'Esc' },
  undo: { id: 'undo', label: 'Undo stroke', keys: ['u', 'Mod+z'], shown: 'U' },
  redo: { id: 'redo', label: 'Redo stroke', keys: ['Shift+u', 'Mod+Shift+z'], shown: 'Shift U' },
  before: { id: 'before', label: 'See the merge before repair', keys: ['q'], shown: 'hold Q', hold: true },
  donorLook: { id: 'donorLook', label: 'See the donor frame', keys: ['w'], shown: 'hold W', hold: true },
  marks: { id: 'marks', label: 'Marks on or off', keys: ['m'], shown: 'M' },
  provenance: { id: 'provenance', label: 'Provenance: which frame is shown where', keys: ['p'], shown: 'P' },
  smaller: { id: 'smaller', label: 'Smaller brush', keys: [','], shown: ',' },
  larger: { id: 'larger', label: 'Larger brush', keys: ['.'], shown: '.' },
  closer: { id: 'closer', label: 'Closer', keys: ['+', '='], shown: '+' },
  further: { id: 'further', label: 'Further away', keys: ['-'], shown: '−' },
  fit: { id: 'fit', label: 'Whole picture', keys: ['0'], shown: '0' },
  sheet: { id: 'sheet', label: 'This sheet', keys: ['?'], shown: '?' },
} as const satisfies Record<string, Command>;

export type CommandId = keyof typeof COMMANDS;
