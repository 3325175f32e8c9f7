// Fade: a frame takes one side of the picture, the merge keeps the other, and one goes over into the other along a drawn line.
import { drawCross } from '../../../viewer/drawTwice';
import { toScreen } from '../../../viewer/camera';
import { drawTicked, pointOf, segmentTool } from './segmentTool';

/** Beyond its far end nothing changes: the line that says so is long. */
const FAR_TICK_PX = 60;
const ARM_PX = 9;

export const fadeAlong = segmentTool(
  {
    id: 'fade',
    name: 'Fade',
    words: { label: 'Fade a frame in along a line', keys: ['Shift+f'], shown: 'Shift F' },
    hint: 'Draw from where the frame in hand is to show fully to where it is to end',
    group: 'repair',
    place: 'menu',
    settings: ['strength'],
  },
  {
    leastPx: 8,
    needsDonor: true,
    asks({ from, to, start: { donor, brush, picture } }) {
      const bounds = { x: 0, y: 0, width: picture.width, height: picture.height };
      const { strength } = brush;
      const shape = { kind: 'fade' as const, from: pointOf(from), to: pointOf(to), bounds, strength };
      return { kind: 'change', operation: { kind: 'paint', donor, shape } };
    },
    draw(context, camera, at, _brush, draft) {
      if (draft) drawTicked(context, camera, draft, FAR_TICK_PX);
      else drawCross(context, toScreen(camera, at), ARM_PX);
    },
  },
);
