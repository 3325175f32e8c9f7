// Commands as data, and which of them a key calls: by what the key says, not by where it lies on the keyboard. Menus, buttons, the
// keyboard and the sheet of keys all read them.

/** What a command is, wherever it stands. */
export interface CommandWords {
  readonly id: string;
  readonly label: string;
  /**
   * Keys that call it: what they say ("n", "?", "Escape"), with "Shift+" before a letter and "Mod+" for Control or Command.
   * What a symbol needs to be typed (Shift, AltGr) differs between keyboards and does not count.
   */
  readonly keys: readonly string[];
  /** The key as the sheet and tooltips show it. */
  readonly shown: string;
  /** Acts while the key is held and ends on release. */
  readonly hold?: boolean;
}

/** A command with what it does now. */
export interface Command extends CommandWords {
  /** Whether it can be called as things stand. */
  readonly isEnabled: boolean;
  /** @param pressed for one that is held: true when its key goes down, false when it comes up */
  run(pressed: boolean): void;
}

/** What a command does, or that with whether it can be called. */
export type Action = ((pressed: boolean) => void) | { readonly isEnabled: boolean; run(pressed: boolean): void };

/** Commands by id, from their words and what they do. */
export function bindCommands<Id extends string>(
  words: Readonly<Record<Id, CommandWords>>,
  actions: Readonly<Record<Id, Action>>,
): Readonly<Record<Id, Command>> {
  const bound = Object.entries<CommandWords>(words).map(([id, command]): [string, Command] => {
    const action = actions[id as Id];
    return [id, { ...command, ...(typeof action === 'function' ? { isEnabled: true, run: action } : action) }];
  });
  return Object.fromEntries(bound) as Record<Id, Command>;
}

/** What a key event tells; a part of KeyboardEvent. */
export interface KeyPress {
  readonly key: string;
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
}

/** A key press in the words of `Command.keys`; null for keys that are no command's: modifiers alone, Alt with anything. */
export function nameOfKey({ key, shiftKey, ctrlKey, metaKey, altKey }: KeyPress): string | null {
  if (['Shift', 'Control', 'Alt', 'AltGraph', 'Meta', 'Dead'].includes(key)) return null;
  const isLetter = key.length === 1 && key.toLowerCase() !== key.toUpperCase();
  // AltGr, by which many keyboards type symbols, comes as Control and Alt at once.
  const types = ctrlKey && altKey && key.length === 1;
  if (altKey && !types) return null;
  const mod = (ctrlKey || metaKey) && !types;
  const shift = shiftKey && (isLetter || key.length > 1);
  return `${mod ? 'Mod+' : ''}${shift ? 'Shift+' : ''}${isLetter ? key.toLowerCase() : key}`;
}

/** The command that a key press calls, also one that cannot be called now. */
export function commandFor<C extends CommandWords>(commands: readonly C[], press: KeyPress): C | null {
  const name = nameOfKey(press);
  return commands.find((c) => name !== null && c.keys.includes(name)) ?? null;
}

/** Whether keys belong to what has the focus: text being typed, or something that lies over the screen (dialogs, menus). */
export function ownsKeys(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.isContentEditable || target.closest('[role="dialog"], .MuiModal-root')) return true;
  if (target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement) return true;
  return target instanceof HTMLInputElement && !['range', 'checkbox', 'radio', 'button'].includes(target.type);
}
