// Match: a frame is painted in with its tone brought to what lies around the stroke. The tone is known once the stroke has ended: until
// then only where it goes is shown.
import { toScreen } from '../../../viewer/camera';
import { drawBrush } from './drawBrush';
import { strokeTool, type StrokeDraft } from './strokeTool';
import type { Tool } from './tool';

const strokes = strokeTool({
  id: 'match',
  name: 'Match',
  words: { label: 'Paint with a frame, its tone matched', keys: ['Shift+m'], shown: 'Shift M' },
  hint: 'Paint: the frame in hand comes in with its tone brought to what lies around the stroke',
  isReady: ({ donor }) => donor !== null,
  donorOf: ({ donor }) => donor,
});

export const matchTone: Tool<'match', StrokeDraft> = {
  ...strokes,
  place: 'menu',
  extend: (draft, samples) => [strokes.extend(draft, samples)[0], null],
  shown: () => null,
  finish({ donor, brush, points }) {
    const shape = { kind: 'stroke' as const, points: [...points], ...brush };
    return donor === null ? null : { kind: 'order', order: { kind: 'match', donor, shape } };
  },
  draw(context, camera, at, brush, draft) {
    if (draft) {
      const path = draft.points.map(([x, y]) => toScreen(camera, { x, y }));
      context.beginPath();
      // A tap is a dot: a line of no length has no ends to round.
      for (const [k, { x, y }] of [...path, path.at(-1)!].entries()) context[k === 0 ? 'moveTo' : 'lineTo'](x, y);
      context.setLineDash([]);
      context.lineCap = 'round';
      context.lineJoin = 'round';
      context.lineWidth = draft.brush.sizePx * camera.zoom;
      context.strokeStyle = 'rgba(255, 255, 255, 0.25)';
      context.stroke();
    }
    drawBrush(context, camera, at, brush);
  },
};
