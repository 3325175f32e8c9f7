// Binds commands to keys, for as long as a screen is there.
import { useEffect, useRef } from 'react';
import { commandFor, ownsKeys, type Command } from './keys';

/**
 * Runs commands on their keys; held ones get true on press and false on release, also when the window loses the focus meanwhile.
 * @param enabled false while something lies over the screen
 */
export function useCommandKeys(commands: Readonly<Record<string, Command>>, enabled = true): void {
  const latest = useRef(commands);
  useEffect(() => {
    latest.current = commands;
  }, [commands]);
  useEffect(() => {
    if (!enabled) return;
    const act = (id: string, pressed: boolean): void => {
      const command = latest.current[id];
      // What was begun is ended, whatever has changed meanwhile.
      if (command && (command.isEnabled || !pressed)) command.run(pressed);
    };
    /** Held commands by the place of their key: what it says may change under it (Shift). */
    const held = new Map<string, string>();
    const release = (): void => {
      for (const id of held.values()) act(id, false);
      held.clear();
    };
    const down = (event: KeyboardEvent): void => {
      // Whoever has the focus may have answered the key already: a list its arrows, a slider its own.
      if (event.defaultPrevented || ownsKeys(event.target)) return;
      const command = commandFor(Object.values(latest.current), event);
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
  }, [enabled]);
}
