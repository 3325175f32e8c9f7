// Binds commands to keys, for as long as a screen is there.
import { useEffect, useRef } from 'react';
import { commandFor, ownsKeys, type Command } from './keys';

/**
 * Runs `actions[id]` on a command's keys; held commands get true on press and false on release, also when the window loses the
 * focus meanwhile.
 * @param enabled false while something lies over the screen
 */
export function useCommandKeys<Id extends string>(
  commands: Readonly<Record<Id, Command>>,
  actions: Readonly<Record<Id, (pressed: boolean) => void>>,
  enabled = true,
): void {
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  }, [actions]);
  useEffect(() => {
    if (!enabled) return;
    const list = Object.values<Command>(commands);
    const act = (id: string, pressed: boolean): void => latest.current[id as Id](pressed);
    /** Held commands by the place of their key: what it says may change under it (Shift). */
    const held = new Map<string, string>();
    const release = (): void => {
      for (const id of held.values()) act(id, false);
      held.clear();
    };
    const down = (event: KeyboardEvent): void => {
      if (ownsKeys(event.target)) return;
      const command = commandFor(list, event);
      if (!command) return;
      event.preventDefault();
      if (!command.hold) act(command.id, true);
      else if (!event.repeat && !held.has(event.code)) {
        held.set(event.code, command.id);
        act(command.id, true);
      }
    };
    const up = (event: KeyboardEvent): void => {
      const id = held.get(event.code);
      if (id === undefined) return;
      held.delete(event.code);
      act(id, false);
    };
    document.addEventListener('keydown', down);
    document.addEventListener('keyup', up);
    window.addEventListener('blur', release);
    return () => {
      release();
      document.removeEventListener('keydown', down);
      document.removeEventListener('keyup', up);
      window.removeEventListener('blur', release);
    };
  }, [commands, enabled]);
}
