// What tools that draw around a place share: an outline that follows the pointer.
import { polygonArea } from '@blendrak/core/image';
import { toScreen, type Camera, type Place } from '../../../viewer/camera';
import { drawCross, drawTwice } from '../../../viewer/drawTwice';
import type { PenSample } from './tool';

export interface OutlineDraft {
  readonly points: readonly [number, number][];
}

/** Points nearer to each other than this say nothing new, picture px. */
const APART_PX = 2;
export const LEAST_AREA_PX = 64;
const MOST_POINTS = 4000;
const ARM_PX = 9;

export function extendOutline({ points }: OutlineDraft, samples: readonly PenSample[]): OutlineDraft {
  const grown = [...points];
  for (const { x, y } of samples) {
    const [lx, ly] = grown.at(-1)!;
    if (Math.hypot(x - lx, y - ly) > APART_PX && grown.length < MOST_POINTS) grown.push([x, y]);
  }
  return { points: grown };
}

/** The polygon that was drawn; null for one that encloses next to nothing. */
export function finishOutline({ points }: OutlineDraft): [number, number][] | null {
  return polygonArea(points) < LEAST_AREA_PX ? null : [...points];
}

export function drawOutline(
  context: CanvasRenderingContext2D,
  camera: Camera,
  at: Place,
  draft: OutlineDraft | null,
): void {
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
}
