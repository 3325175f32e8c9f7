// What the keys do on a card.
import type { CommandWords } from '../../shared/commands/keys';

export const SORT_COMMANDS = {
  next: { id: 'next', label: 'Next file', keys: ['ArrowRight'], shown: '→' },
  previous: { id: 'previous', label: 'File before', keys: ['ArrowLeft'], shown: '←' },
  below: { id: 'below', label: 'Next set', keys: ['ArrowDown'], shown: '↓' },
  above: { id: 'above', label: 'Set before', keys: ['ArrowUp'], shown: '↑' },
  later: { id: 'later', label: 'Move the file one place on', keys: ['Shift+ArrowRight'], shown: 'Shift →' },
  earlier: { id: 'earlier', label: 'Move the file one place back', keys: ['Shift+ArrowLeft'], shown: 'Shift ←' },
  carryDown: { id: 'carryDown', label: 'Move the file into the next set', keys: ['Shift+ArrowDown'], shown: 'Shift ↓' },
  carryUp: { id: 'carryUp', label: 'Move the file into the set before', keys: ['Shift+ArrowUp'], shown: 'Shift ↑' },
  undo: { id: 'undo', label: 'Undo', keys: ['z', 'Mod+z'], shown: 'Z' },
  leaveOut: { id: 'leaveOut', label: 'Leave the file out, or take it in', keys: ['o'], shown: 'O' },
  split: { id: 'split', label: 'Split the set before the file', keys: ['s'], shown: 'S' },
  newSet: { id: 'newSet', label: 'New set of the file', keys: ['n'], shown: 'N' },
} as const satisfies Record<string, CommandWords>;
