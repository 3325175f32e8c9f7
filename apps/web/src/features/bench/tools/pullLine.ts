// Straighten: a cable, a pole or an edge that breaks or bends is followed and pulled onto a straight line, or onto the curve in which the
// frames have it.
import { pointOf, segmentTool } from './segmentTool';

/** How far beside the line the picture may give way, picture px. */
const REACHES = { least: 2, most: 500 } as const;

export const pullLine = segmentTool(
  {
    id: 'straighten',
    name: 'Straighten',
    words: { label: 'Pull a line straight', keys: ['Shift+l'], shown: 'Shift L' },
    hint: 'Draw along a broken cable or a bent pole, from where it is right to where it is right again; what hangs in the frames stays hanging',
    group: 'repair',
    place: 'menu',
    settings: ['sizePx'],
  },
  {
    // Shorter lines tell too little of how they run.
    leastPx: 24,
    asks({ from, to, start: { brush } }) {
      const reachPx = Math.min(REACHES.most, Math.max(REACHES.least, brush.sizePx / 2));
      return { kind: 'order', order: { kind: 'straighten', from: pointOf(from), to: pointOf(to), reachPx } };
    },
  },
);
