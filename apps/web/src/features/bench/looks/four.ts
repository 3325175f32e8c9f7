// Four panes in step: the frame in question, its difference from the merge, the merge as it came, and the repaired one.
import { difference } from './difference';
import type { Look } from './look';

export const four: Look<'four'> = {
  id: 'four',
  label: () => 'Four panes',
  key: { label: 'Frame, difference, before and after in four panes', letter: 'v', shown: 'V' },
  place: 'menu',
  about: 'Frame and difference above, before and after below, in step',
  panes: (merge, sight) => [
    { layers: [{ of: { frame: sight.frame } }] },
    ...difference.panes(merge, sight),
    { layers: [{ of: 'before' }] },
    { layers: [{ of: 'repaired' }] },
  ],
};
