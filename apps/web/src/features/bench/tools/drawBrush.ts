// A round brush where it is, or would be.
import { toScreen, type Camera, type Place } from '../../../viewer/camera';
import type { Brush } from './tool';

/** The brush's outline: where it is full, and where it ends. Dark under light: seen on any tone. */
export function drawBrush(context: CanvasRenderingContext2D, camera: Camera, at: Place, brush: Brush): void {
  const { x, y } = toScreen(camera, at);
  const radius = (brush.sizePx / 2) * camera.zoom;
  const ring = (r: number, width: number, style: string, dash: number[]): void => {
    context.beginPath();
    context.arc(x, y, r, 0, 2 * Math.PI);
    context.lineWidth = width;
    context.strokeStyle = style;
    context.setLineDash(dash);
    context.stroke();
  };
  ring(radius, 2.5, 'rgba(0, 0, 0, 0.6)', []);
  ring(radius, 1, '#fff', []);
  ring(Math.max(0.5, radius * brush.hardness), 1, '#fff', [2, 4]);
}
