// A scene's layers painted once, sharp, on the canonical pixel grid.
import { depthAt, type Layer } from './layer';
import type { Scene } from './lampScene';

/** Light of 1.0 in stored units: leaves room for highlights of four times white. */
export const UNIT = 16383;

/** A layer's premultiplied colour and coverage on its part of the canvas, integers with UNIT = 1. */
export interface PaintedLayer {
  readonly layer: Layer;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** R, G, B, A. */
  readonly channels: readonly [Uint16Array, Uint16Array, Uint16Array, Uint16Array];
}

/** The canvas: the picture with a rim that lets frames shift, and blur draw from outside. */
export interface Canvas {
  readonly width: number;
  readonly height: number;
  readonly rimPx: number;
  readonly layers: readonly PaintedLayer[];
}

/**
 * Paints all layers of a scene.
 * @param width, height picture size in px
 * @param rimPx extra px on each side
 * @param onProgress called with the share done, 0..1
 */
export function paintScene(
  scene: Scene,
  width: number,
  height: number,
  rimPx: number,
  onProgress?: (share: number) => void,
): Canvas {
  const layers = scene.layers.map((layer, i) => {
    const painted = paintLayer(layer, width, height, rimPx);
    onProgress?.((i + 1) / scene.layers.length);
    return painted;
  });
  return { width: width + 2 * rimPx, height: height + 2 * rimPx, rimPx, layers };
}

function paintLayer(layer: Layer, width: number, height: number, rim: number): PaintedLayer {
  const x0 = Math.max(-rim, Math.floor(layer.box.x0 * width) - 2);
  const y0 = Math.max(-rim, Math.floor(layer.box.y0 * width) - 2);
  const x1 = Math.min(width + rim, Math.ceil(layer.box.x1 * width) + 2);
  const y1 = Math.min(height + rim, Math.ceil(layer.box.y1 * width) + 2);
  const w = Math.max(1, x1 - x0);
  const h = Math.max(1, y1 - y0);
  const make = (): Uint16Array => new Uint16Array(w * h);
  const channels = [make(), make(), make(), make()] as const;
  const pixel = 1 / width;
  const shade = { r: 0, g: 0, b: 0, a: 0 };
  const [cr, cg, cb, ca] = channels;
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      layer.shade((x0 + x + 0.5) * pixel, (y0 + y + 0.5) * pixel, pixel, shade);
      if (shade.a <= 0) continue;
      const i = y * w + x;
      const k = shade.a * UNIT;
      cr[i] = Math.min(65535, shade.r * k);
      cg[i] = Math.min(65535, shade.g * k);
      cb[i] = Math.min(65535, shade.b * k);
      ca[i] = k;
    }
  }
  return { layer, x: x0 + rim, y: y0 + rim, width: w, height: h, channels };
}

/** Depth in mm of the nearest thing that covers each canvas pixel at least half. */
export function depthMap(canvas: Canvas, pictureWidth: number): Float32Array {
  const out = new Float32Array(canvas.width * canvas.height);
  for (const p of canvas.layers) {
    for (let y = 0; y < p.height; y++) {
      const depth = depthAt(p.layer, (p.y + y + 0.5 - canvas.rimPx) / pictureWidth);
      for (let x = 0; x < p.width; x++) {
        if (p.channels[3][y * p.width + x]! >= UNIT / 2) out[(p.y + y) * canvas.width + p.x + x] = depth;
      }
    }
  }
  return out;
}
