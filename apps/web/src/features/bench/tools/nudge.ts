// Nudge: what lies under the brush is moved to where it is dragged; the picture around it gives way.
import { mostPull, pullOperation, reachFor } from '@blendrak/core/repair';
import { drawBrush } from './drawBrush';
import { drawTicked, lengthOf, segmentTool, type SegmentDraft } from './segmentTool';

const REACHES = { least: 4, most: 500 } as const;
const TICK_PX = 6;

const round = (v: number): number => Math.round(v * 100) / 100;

/** Half the brush, or as much as it takes to move something so far without folding the picture over. */
function reachOf(draft: SegmentDraft): number {
  const { sizePx } = draft.start.brush;
  return Math.min(REACHES.most, Math.max(REACHES.least, sizePx / 2, reachFor(lengthOf(draft))));
}

export const nudge = segmentTool(
  {
    id: 'nudge',
    name: 'Nudge',
    words: { label: 'Nudge what is under the brush', keys: ['Shift+j'], shown: 'Shift J' },
    hint: 'Drag a thing by some px: it moves, and what is around it gives way',
    group: 'repair',
    place: 'menu',
    settings: ['sizePx'],
  },
  {
    // Less cannot be seen.
    leastPx: 0.2,
    asks(draft) {
      const { from, to } = draft;
      const reachPx = reachOf(draft);
      const share = Math.min(1, mostPull(reachPx) / lengthOf(draft));
      const [dx, dy] = [share * (to.x - from.x), share * (to.y - from.y)];
      const knot = [from.x + dx, from.y + dy, dx, dy].map(round) as [number, number, number, number];
      const { donor, shape } = pullOperation({ knots: [knot], reachPx });
      const points = shape.points.map(([x, y]): [number, number] => [x, y]);
      const pull = { knots: [knot], reachPx };
      return { kind: 'change', operation: { kind: 'paint', donor, shape: { ...shape, points }, pull } };
    },
    draw(context, camera, at, brush, draft) {
      drawBrush(context, camera, draft?.to ?? at, { ...brush, sizePx: draft ? 2 * reachOf(draft) : brush.sizePx });
      if (draft) drawTicked(context, camera, draft, TICK_PX);
    },
  },
);
