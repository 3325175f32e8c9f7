// One frame, where it lies in the merge and toned like it.
import type { Look } from './look';

export const frame: Look<'frame'> = {
  id: 'frame',
  label: (which) => `Frame ${which + 1}`,
  peek: { label: 'See the donor frame', keys: ['w'], shown: 'hold W' },
  panes: (_merge, which) => [{ layers: [{ of: { frame: which } }] }],
};
