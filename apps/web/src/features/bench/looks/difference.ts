// How far the merge is from the frame in question, brightened.
import type { Look } from './look';

/** Differences that can be seen are some levels of 255: they are shown as many times as bright. */
const GAIN = 4;

export const difference: Look<'difference'> = {
  id: 'difference',
  label: ({ mark }) => `Difference to ${mark}`,
  key: { label: 'Difference of merge and frame', letter: 's', shown: 'S' },
  place: 'menu',
  about: `Merge less frame, ${GAIN} times as bright: black where they are the same`,
  panes: (_merge, { frame }) => [
    { layers: [{ of: 'repaired' }, { of: { frame }, composite: 'difference' }], gain: GAIN },
  ],
};
