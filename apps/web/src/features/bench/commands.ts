// Everything the bench can do by key or button, as data.

export interface Command {
  readonly id: string;
  readonly label: string;
  /** Keys as react-hotkeys-hook reads them. */
  readonly keys: string;
  readonly shown: string;
  /** Acts while the key is held and ends on release. */
  readonly hold?: boolean;
}

export const COMMANDS = {
  next: { id: 'next', label: 'Next open finding', keys: 'n', shown: 'N' },
  previous: { id: 'previous', label: 'Previous open finding', keys: 'shift+n', shown: 'Shift N' },
  takeDonor: { id: 'takeDonor', label: 'Take the best donor of the finding in hand', keys: 'd', shown: 'D' },
  dropBrush: { id: 'dropBrush', label: 'Put the brush away', keys: 'escape', shown: 'Esc' },
  undo: { id: 'undo', label: 'Undo stroke', keys: 'u,mod+z', shown: 'U' },
  redo: { id: 'redo', label: 'Redo stroke', keys: 'shift+u,mod+shift+z', shown: 'Shift U' },
  before: { id: 'before', label: 'See the merge before repair', keys: 'q', shown: 'hold Q', hold: true },
  donorLook: { id: 'donorLook', label: 'See the donor frame', keys: 'w', shown: 'hold W', hold: true },
  marks: { id: 'marks', label: 'Marks on or off', keys: 'm', shown: 'M' },
  provenance: { id: 'provenance', label: 'Provenance: which frame is shown where', keys: 'p', shown: 'P' },
  smaller: { id: 'smaller', label: 'Smaller brush', keys: 'comma', shown: ',' },
  larger: { id: 'larger', label: 'Larger brush', keys: 'period', shown: '.' },
  closer: { id: 'closer', label: 'Closer', keys: 'equal,plus', shown: '+' },
  further: { id: 'further', label: 'Further away', keys: 'minus', shown: '−' },
  fit: { id: 'fit', label: 'Whole picture', keys: '0', shown: '0' },
  sheet: { id: 'sheet', label: 'This sheet', keys: 'shift+slash', shown: '?' },
} as const satisfies Record<string, Command>;

export type CommandId = keyof typeof COMMANDS;
