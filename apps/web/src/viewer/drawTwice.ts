// Lines that are seen on any tone: dark under light.
import type { Place } from './camera';

/**
 * Strokes a path twice.
 * @param lightPx width of the light line; the dark one under it reaches beyond it
 */
export function drawTwice(context: CanvasRenderingContext2D, trace: () => void, lightPx = 1.2): void {
  context.setLineDash([]);
  context.beginPath();
  trace();
  for (const [width, style] of [
    [2.5 * lightPx, 'rgba(0, 0, 0, 0.6)'],
    [lightPx, '#fff'],
  ] as const) {
    context.lineWidth = width;
    context.strokeStyle = style;
    context.stroke();
  }
}

/** A cross with an open middle. */
export function drawCross(context: CanvasRenderingContext2D, { x, y }: Place, armPx: number, lightPx?: number): void {
  const openPx = armPx / 3.5;
  const trace = (): void => {
    for (const [dx, dy] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const) {
      context.moveTo(x + openPx * dx, y + openPx * dy);
      context.lineTo(x + armPx * dx, y + armPx * dy);
    }
  };
  drawTwice(context, trace, lightPx);
}
