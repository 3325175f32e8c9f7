// Everything the bench can do by key or button, as data: looks and tools bring their own.
import type { CommandWords } from '../../shared/commands/keys';
import { LOOKS, type LookId } from './looks';
import { TOOLS, type ToolId } from './tools';

const WORDS = {
  next: { id: 'next', label: 'Next open finding', keys: ['n'], shown: 'N' },
  previous: { id: 'previous', label: 'Previous open finding', keys: ['Shift+n'], shown: 'Shift N' },
  mend: {
    id: 'mend',
    label: 'Keep the repair proposed for the finding in hand, or have one worked out',
    keys: ['y'],
    shown: 'Y',
  },
  takeDonor: { id: 'takeDonor', label: 'Take the best donor of the finding in hand', keys: ['d'], shown: 'D' },
  putAway: { id: 'putAway', label: 'Put away what is in hand', keys: ['Escape'], shown: 'Esc' },
  undo: { id: 'undo', label: 'Undo', keys: ['u', 'Mod+z'], shown: 'U' },
  redo: { id: 'redo', label: 'Redo', keys: ['Shift+u', 'Mod+Shift+z'], shown: 'Shift U' },
  marks: { id: 'marks', label: 'Marks on or off', keys: ['m'], shown: 'M' },
  provenance: { id: 'provenance', label: 'Provenance: which frame is shown where', keys: ['p'], shown: 'P' },
  smaller: { id: 'smaller', label: 'Smaller brush', keys: [','], shown: ',' },
  larger: { id: 'larger', label: 'Larger brush', keys: ['.'], shown: '.' },
  closer: { id: 'closer', label: 'Closer', keys: ['+', '='], shown: '+' },
  further: { id: 'further', label: 'Further away', keys: ['-'], shown: '−' },
  fit: { id: 'fit', label: 'Whole picture', keys: ['0'], shown: '0' },
  full: { id: 'full', label: 'One picture px on one px of the screen', keys: ['1'], shown: '1' },
  sweep: { id: 'sweep', label: 'Next part not looked at, at full size', keys: ['a'], shown: 'A' },
  card: { id: 'card', label: 'Fold the card, or open it', keys: ['c'], shown: 'C' },
  sheet: { id: 'sheet', label: 'This sheet', keys: ['?'], shown: '?' },
} as const satisfies Record<string, CommandWords>;

export type OwnCommandId = keyof typeof WORDS;
export type CommandId = OwnCommandId | `tool-${ToolId}` | `peek-${LookId}` | `look-${LookId}`;

const toolWords = TOOLS.map((tool): CommandWords => ({ ...tool.words, id: `tool-${tool.id}` }));
/** One key per look: held for as long, with Shift for good. */
const lookWords = LOOKS.flatMap(({ id, key: { label, letter, shown } }): CommandWords[] => [
  { id: `peek-${id}`, label, keys: [letter], shown: `hold ${shown}`, hold: true },
  { id: `look-${id}`, label: `${label}, for good`, keys: [`Shift+${letter}`], shown: `Shift ${shown}` },
]);

/** The words of all commands, in the order of the sheet. */
export const COMMANDS: Readonly<Record<string, CommandWords>> = Object.fromEntries(
  [...Object.values<CommandWords>(WORDS), ...toolWords, ...lookWords].map((command) => [command.id, command]),
);
