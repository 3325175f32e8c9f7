// Pins on the picture: their segments with a tick across either end, and their numbers.
import type { Pin } from '@blendrak/contract';
import { toScreen, type Camera } from '../../../viewer/camera';

const TICK_PX = 5;

export function drawPins(
  context: CanvasRenderingContext2D,
  camera: Camera,
  pins: readonly Pin[],
  openPin: string | null,
  ink: string,
): void {
  context.strokeStyle = ink;
  context.fillStyle = ink;
  context.font = '600 11px "JetBrains Mono Variable", monospace';
  context.setLineDash([]);
  for (const { id, number, from, to } of pins) {
    const a = toScreen(camera, { x: from[0], y: from[1] });
    const b = toScreen(camera, { x: to[0], y: to[1] });
    if (Math.max(a.x, b.x) < 0 || Math.min(a.x, b.x) > camera.width) continue;
    if (Math.max(a.y, b.y) < 0 || Math.min(a.y, b.y) > camera.height) continue;
    const far = Math.hypot(b.x - a.x, b.y - a.y) || 1;
    const [ux, uy] = [(b.x - a.x) / far, (b.y - a.y) / far];
    context.globalAlpha = id === openPin ? 1 : 0.75;
    context.lineWidth = id === openPin ? 2 : 1.4;
    context.beginPath();
    context.moveTo(a.x, a.y);
    context.lineTo(b.x, b.y);
    for (const end of [a, b]) {
      context.moveTo(end.x + uy * TICK_PX, end.y - ux * TICK_PX);
      context.lineTo(end.x - uy * TICK_PX, end.y + ux * TICK_PX);
    }
    context.stroke();
    context.fillText(String(number), a.x - ux * 12 - 4, a.y - uy * 12 + 4);
  }
}
