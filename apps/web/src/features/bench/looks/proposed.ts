// The merge with the repair that is proposed for the finding in hand; as it is now while none is.
import type { Look } from './look';

export const proposed: Look<'proposed'> = {
  id: 'proposed',
  label: () => 'With the proposed repair',
  key: { label: 'The merge with the proposed repair', letter: 'z', shown: 'Z' },
  place: 'menu',
  about: 'What the place looks like if the repair is kept: hold the key and let go to compare',
  panes: () => [{ layers: [{ of: 'proposed' }] }],
};
