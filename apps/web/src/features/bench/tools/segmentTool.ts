// Tools that measure along a segment, drawn from one place to another; they differ in what is read there.
import type { PinKind } from '@blendrak/contract';
import { toScreen, type Camera, type Place } from '../../../viewer/camera';
import { drawCross, drawTwice } from '../../../viewer/drawTwice';
import type { Tool } from './tool';

export interface SegmentDraft {
  readonly from: Place;
  readonly to: Place;
}

/** Shorter segments were only touched, picture px. */
const LEAST_PX = 8;
const TICK_PX = 6;
const ARM_PX = 9;

export function segmentTool<Id extends string>(
  kind: PinKind,
  tool: Pick<Tool<Id>, 'id' | 'name' | 'words' | 'hint'>,
): Tool<Id, SegmentDraft> {
  return {
    ...tool,
    group: 'look',
    settings: [],
    isReady: () => true,
    donorOf: () => null,
    begin: ({ x, y }) => ({ from: { x, y }, to: { x, y } }),
    extend({ from }, samples) {
      const { x, y } = samples.at(-1)!;
      return [{ from, to: { x, y } }, null];
    },
    shown: () => null,
    finish({ from, to }) {
      if (Math.hypot(to.x - from.x, to.y - from.y) < LEAST_PX) return null;
      return { kind: 'measure', pin: { kind, from: [from.x, from.y], to: [to.x, to.y] } };
    },
    draw(context, camera, at, _hand, draft) {
      if (draft) drawSegment(context, camera, draft);
      else drawCross(context, toScreen(camera, at), ARM_PX);
    },
  };
}

/** A line with a tick across either end. */
function drawSegment(context: CanvasRenderingContext2D, camera: Camera, { from, to }: SegmentDraft): void {
  const [a, b] = [toScreen(camera, from), toScreen(camera, to)];
  const far = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const [nx, ny] = [(-(b.y - a.y) / far) * TICK_PX, ((b.x - a.x) / far) * TICK_PX];
  drawTwice(context, () => {
    context.moveTo(a.x, a.y);
    context.lineTo(b.x, b.y);
    for (const end of [a, b]) {
      context.moveTo(end.x - nx, end.y - ny);
      context.lineTo(end.x + nx, end.y + ny);
    }
  });
}
