// Round: a frame shows in a round place, drawn from its middle outwards, and fades towards its rim.
import { drawBrush } from './drawBrush';
import { lengthOf, pointOf, segmentTool, type SegmentDraft } from './segmentTool';

/** Smaller ones were only touched; larger ones are no place, picture px across. */
const SIZES = { least: 8, most: 4000 } as const;

const sizeOf = (draft: SegmentDraft): number => Math.min(SIZES.most, 2 * lengthOf(draft));

export const fadeRound = segmentTool(
  {
    id: 'round',
    name: 'Round',
    words: { label: 'Fade a frame in over a round place', keys: ['Shift+c'], shown: 'Shift C' },
    hint: 'Draw from the middle of a place outwards: the frame in hand shows there, and fades towards the rim',
    group: 'repair',
    place: 'menu',
    settings: ['hardness', 'strength'],
  },
  {
    leastPx: SIZES.least / 2,
    needsDonor: true,
    asks(draft) {
      const { donor, brush } = draft.start;
      const shape = { ...brush, kind: 'stroke' as const, points: [pointOf(draft.from)], sizePx: sizeOf(draft) };
      return { kind: 'change', operation: { kind: 'paint', donor, shape } };
    },
    draw(context, camera, at, brush, draft) {
      const sizePx = draft ? sizeOf(draft) : SIZES.least;
      drawBrush(context, camera, draft?.from ?? at, { ...brush, sizePx });
    },
  },
);
