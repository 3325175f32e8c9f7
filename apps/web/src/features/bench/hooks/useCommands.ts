// Binds the bench's commands to keys.
import { useHotkeys } from 'react-hotkeys-hook';
import { COMMANDS, type Command, type CommandId } from '../commands';

/** Runs `actions[id]` on the command's keys; held commands get true on press and false on release. */
export function useCommands(actions: Readonly<Record<CommandId, (pressed: boolean) => void>>): void {
  const list = Object.values(COMMANDS) as readonly Command[];
  const tapped = list.filter((c) => !c.hold);
  const held = list.filter((c) => c.hold);
  useHotkeys(
    tapped.map((c) => c.keys).join(','),
    (event, handler) => {
      const combo = [
        handler.mod || handler.ctrl || handler.meta ? 'mod' : '',
        handler.shift ? 'shift' : '',
        handler.keys?.join('') ?? '',
      ]
        .filter(Boolean)
        .join('+');
      const command = tapped.find((c) => c.keys.split(',').includes(combo));
      if (!command) return;
      event.preventDefault();
      actions[command.id as CommandId](true);
    },
    [actions],
  );
  useHotkeys(
    held.map((c) => c.keys).join(','),
    (event, handler) => {
      const command = held.find((c) => c.keys === handler.keys?.join(''));
      if (command && !event.repeat) actions[command.id as CommandId](event.type === 'keydown');
    },
    { keydown: true, keyup: true },
    [actions],
  );
}
