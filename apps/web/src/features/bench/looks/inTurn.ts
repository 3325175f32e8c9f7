// The merge and the frame in question in turn, at one place: what jumps is what differs. Slow enough to disturb nobody.
import type { Look } from './look';

export const inTurn: Look<'inTurn'> = {
  id: 'inTurn',
  label: ({ word, mark }) => `Merge, ${word.toLowerCase()} ${mark} in turn`,
  key: { label: 'Frame and merge in turn', letter: 'b', shown: 'B' },
  place: 'menu',
  about: 'Each for most of a second: what jumps is what differs',
  turnsAfterMs: 700,
  panes: (_merge, { frame, isOther }) => [{ layers: [{ of: isOther ? { frame } : 'repaired' }] }],
};
