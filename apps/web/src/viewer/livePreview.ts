// The stroke under the pointer, before the server has rendered it: the same mask code, on the pixels on screen.
import { layStroke, type Stroke } from '@blendrak/core/repair';
import type { DeepView, ViewState } from './deepView';

/** A stroke being drawn over a grabbed view. */
export interface LivePreview {
  /** Extends the stroke by its newest points (picture px) and paints what they touch. */
  extend(points: readonly (readonly [number, number])[]): void;
}

/**
 * Starts a preview.
 * @param donor the donor frame as it looks in this view, drawn to the canvas's size
 * @param brush of the stroke; points are given to `extend`
 */
export function startLivePreview(
  deep: DeepView,
  view: ViewState,
  donor: CanvasImageSource,
  brush: Omit<Stroke, 'points'>,
): LivePreview {
  const canvas = deep.preview;
  const { width, height } = canvas;
  const ratio = width / Math.max(1, view.width);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.setTransform(1, 0, 0, 1, 0, 0);
  const base = pixelsOf(deep.grab(), width, height);
  // Strokes whose tiles are not there yet stay visible: the preview canvas lies over the picture.
  const under = context.getImageData(0, 0, width, height);
  for (let i = 0; i < base.data.length; i += 4) {
    if (under.data[i + 3] === 255) base.data.set(under.data.subarray(i, i + 4), i);
  }
  const paint = pixelsOf(donor, width, height);
  const mask = new Float32Array(width * height);
  const scale = 1 / (view.zoom * ratio);
  const region = { x: view.originX / scale, y: view.originY / scale, width, height };

  return {
    extend(points) {
      layStroke(mask, region, { ...brush, points }, scale);
      const r = brush.sizePx / 2 / scale + 2;
      const xs = points.map((p) => p[0] / scale - region.x);
      const ys = points.map((p) => p[1] / scale - region.y);
      const x0 = Math.max(0, Math.floor(Math.min(...xs) - r));
      const y0 = Math.max(0, Math.floor(Math.min(...ys) - r));
      const w = Math.min(width, Math.ceil(Math.max(...xs) + r)) - x0;
      const h = Math.min(height, Math.ceil(Math.max(...ys) + r)) - y0;
      if (w <= 0 || h <= 0) return;
      const out = context.createImageData(w, h);
      for (let y = 0; y < h; y++) {
        for (let x = 0; x < w; x++) {
          const from = (y0 + y) * width + x0 + x;
          const m = mask[from]!;
          const to = (y * w + x) * 4;
          for (let c = 0; c < 3; c++) {
            const b = base.data[from * 4 + c]!;
            out.data[to + c] = b + m * (paint.data[from * 4 + c]! - b);
          }
          out.data[to + 3] = m > 0 || under.data[from * 4 + 3] === 255 ? 255 : 0;
        }
      }
      context.putImageData(out, x0, y0);
    },
  };
}

/** Takes the preview away. */
export function clearPreview(deep: DeepView): void {
  const context = deep.preview.getContext('2d', { willReadFrequently: true })!;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, deep.preview.width, deep.preview.height);
}

function pixelsOf(source: CanvasImageSource, width: number, height: number): ImageData {
  const canvas = document.createElement('canvas');
  Object.assign(canvas, { width, height });
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(source, 0, 0, width, height);
  return context.getImageData(0, 0, width, height);
}
