// Mark: a defect that nobody found is outlined by hand.
import { toScreen } from '../../../viewer/camera';
import { drawCross, drawTwice } from '../../../viewer/drawTwice';
import type { Tool } from './tool';

export interface OutlineDraft {
  readonly points: readonly [number, number][];
}

/** Points nearer to each other than this say nothing new, picture px. */
const APART_PX = 2;
const LEAST_AREA_PX = 64;
const MOST_POINTS = 4000;
const ARM_PX = 9;

export const outline: Tool<'outline', OutlineDraft> = {
  id: 'outline',
  name: 'Mark',
  words: { label: 'Mark a defect by hand', keys: ['o'], shown: 'O' },
  hint: 'Draw around a defect that was not found: it is traced to its frames like the others',
  group: 'look',
  settings: [],
  isReady: () => true,
  donorOf: () => null,
  begin: ({ x, y }) => ({ points: [[x, y]] }),
  extend({ points }, samples) {
    const grown = [...points];
    for (const { x, y } of samples) {
      const [lx, ly] = grown.at(-1)!;
      if (Math.hypot(x - lx, y - ly) > APART_PX && grown.length < MOST_POINTS) grown.push([x, y]);
    }
    return [{ points: grown }, null];
  },
  shown: () => null,
  finish: ({ points }) => (areaOf(points) < LEAST_AREA_PX ? null : { kind: 'mark', polygon: [...points] }),
  draw(context, camera, at, _hand, draft) {
    if (draft) {
      drawTwice(context, () => {
        draft.points.forEach(([x, y], k) => {
          const to = toScreen(camera, { x, y });
          if (k === 0) context.moveTo(to.x, to.y);
          else context.lineTo(to.x, to.y);
        });
      });
    }
    drawCross(context, toScreen(camera, at), ARM_PX);
  },
};

function areaOf(points: readonly [number, number][]): number {
  const sum = points.reduce((s, [x, y], k) => {
    const [u, v] = points[(k + 1) % points.length]!;
    return s + x * v - u * y;
  }, 0);
  return Math.abs(sum) / 2;
}
