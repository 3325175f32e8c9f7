// One frame, where it lies in the merge and toned like it.
import type { Look } from './look';

export const frame: Look<'frame'> = {
  id: 'frame',
  label: ({ word, mark }) => `${word} ${mark}`,
  key: { label: 'The frame in question: the donor', letter: 'w', shown: 'W' },
  place: 'bar',
  panes: (_merge, sight) => [{ layers: [{ of: { frame: sight.frame } }] }],
};
