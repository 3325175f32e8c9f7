// The frame in question to the left of a line, the merge to the right: the line is drawn over a place to see what changes there.
import type { Look } from './look';

export const parted: Look<'parted'> = {
  id: 'parted',
  label: ({ word, mark }) => `${word} ${mark} | merge`,
  key: { label: 'Frame and merge, parted by a line', letter: 'i', shown: 'I' },
  place: 'menu',
  about: 'The frame left of a line that you draw across, the merge right of it',
  isParted: true,
  panes: (_merge, { frame, partedAt }) => [{ layers: [{ of: 'repaired' }, { of: { frame }, leftOf: partedAt }] }],
};
