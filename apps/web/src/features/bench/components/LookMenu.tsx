// The looks that are wanted now and then, with how to read them.
import type { Command } from '../../../shared/commands/keys';
import type { DonorMark } from '../donors';
import { LOOKS, type LookId } from '../looks';
import { ChoiceMenu } from './ChoiceMenu';

interface LookMenuProps {
  readonly shown: LookId;
  readonly frame: DonorMark;
  readonly commands: Readonly<Record<string, Command>>;
}

export function LookMenu({ shown, frame, commands }: LookMenuProps) {
  const choices = LOOKS.filter((look) => look.place === 'menu').map(({ id, label, about, map }) => {
    const { isEnabled, run } = commands[`look-${id}`]!;
    return {
      ...{ id, isEnabled },
      name: label(frame),
      about: isEnabled || !map ? about : 'This merge has no such map',
      shown: commands[`peek-${id}`]!.shown,
      run: () => run(true),
    };
  });
  return <ChoiceMenu name="Compare" chosen={shown} choices={choices} />;
}
