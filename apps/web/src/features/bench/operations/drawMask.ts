// The mask of an operation over the picture, as hatching: long strokes where it is full, shorter ones where it fades.
import { layShape, partsOf, type Operation } from '@blendrak/core/repair';
import type { Camera } from '../../../viewer/camera';

/** Distance of the strokes, CSS px. */
const STEP_PX = 10;
const LONGEST_PX = 5;
/** Less of a mask is not drawn: it is not seen in the picture either. */
const LEAST = 0.04;

export function drawMask(
  context: CanvasRenderingContext2D,
  { originX, originY, zoom, width, height }: Camera,
  operation: Operation,
  ink: string,
): void {
  // Strokes stand on a grid that is fixed to the picture: they do not swim when it is moved.
  const step = STEP_PX / zoom;
  const [x, y] = [Math.floor(originX / step), Math.floor(originY / step)];
  const region = { x, y, width: Math.ceil(width / STEP_PX) + 1, height: Math.ceil(height / STEP_PX) + 1 };
  const mask = new Float32Array(region.width * region.height);
  for (const { shape } of partsOf(operation)) layShape(mask, region, shape, step);
  context.strokeStyle = ink;
  context.globalAlpha = 0.85;
  context.lineWidth = 1;
  context.setLineDash([]);
  context.beginPath();
  mask.forEach((value, i) => {
    if (value < LEAST) return;
    const sx = ((x + (i % region.width) + 0.5) * step - originX) * zoom;
    const sy = ((y + Math.floor(i / region.width) + 0.5) * step - originY) * zoom;
    const half = Math.max(0.75, LONGEST_PX * value);
    context.moveTo(sx - half, sy + half);
    context.lineTo(sx + half, sy - half);
  });
  context.stroke();
}
