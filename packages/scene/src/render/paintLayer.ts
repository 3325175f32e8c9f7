// One layer shaded on a grid of picture pixels, sharp, averaged over the time the shutter is open.
import type { Region } from '@blendrak/core/image';
import { castRow, makeRayRow } from '../optics/view';
import type { Layer } from '../world/layer';
import type { LayerMap } from './layerMap';
import type { Exposure, OpenBlocks, Stage } from './stage';

/** Premultiplied linear colour and coverage on a grid whose samples are `step` px apart. */
export interface PaintedLayer {
  readonly x: number;
  readonly y: number;
  readonly step: number;
  readonly width: number;
  readonly height: number;
  readonly r: Float32Array;
  readonly g: Float32Array;
  readonly b: Float32Array;
  readonly a: Float32Array;
}

const MOST_MOMENTS = 12;
// Moments of a moving thing lie at most this far apart, px.
const MOMENT_PX = 1.5;

/** Shades the layer where blocks are open. */
export function paintLayer(
  stage: Stage,
  exposure: Exposure,
  layer: Layer,
  map: LayerMap,
  area: Region,
  step: number,
  open: OpenBlocks,
): PaintedLayer {
  // The grid is anchored to the picture, so that neighbouring regions sample the same points.
  const x = Math.floor(area.x / step) * step;
  const y = Math.floor(area.y / step) * step;
  const width = Math.ceil((area.x + area.width - x) / step);
  const height = Math.ceil((area.y + area.height - y) / step);
  const n = width * height;
  const make = (): Float32Array => new Float32Array(n);
  const painted: PaintedLayer = { x, y, step, width, height, r: make(), g: make(), b: make(), a: make() };
  const { view, startS, shutterS } = exposure;
  const travelPx = (layer.motion?.unitsPerS ?? 0) * shutterS * view.focalPx * stage.tangentPerUnit;
  const moments = Math.min(MOST_MOMENTS, Math.max(1, Math.ceil(travelPx / step / MOMENT_PX)));
  for (let m = 0; m < moments; m++) {
    addMoment(
      painted,
      exposure,
      layer,
      map,
      area,
      open,
      stage.grainUnits,
      startS + (shutterS * (m + 0.5)) / moments,
      1 / moments,
    );
  }
  return painted;
}

function addMoment(
  p: PaintedLayer,
  { view }: Exposure,
  layer: Layer,
  { matrix: m, normal, beside }: LayerMap,
  area: Region,
  open: OpenBlocks,
  pixel: number,
  timeS: number,
  weight: number,
): void {
  const rays = makeRayRow(p.width);
  const shade = { r: 0, g: 0, b: 0, a: 0 };
  const { x0, y0, x1, y1 } = layer.boxAt?.(timeS) ?? layer.box;
  const [nx, ny, nz] = normal;
  const front = Math.sign(beside);
  for (let j = 0; j < p.height; j++) {
    const row = Math.min(area.y + area.height - 1, Math.max(area.y, p.y + j * p.step));
    const blocks = Math.floor((row - area.y) / open.size) * open.across;
    castRow(view, p.y + (j + 0.5) * p.step, p.x, p.step, p.width, rays);
    for (let i = 0; i < p.width; i++) {
      const column = Math.min(area.width - 1, Math.max(0, p.x + i * p.step - area.x));
      if (open.flags[blocks + Math.floor(column / open.size)] === 0) continue;
      const dx = rays.x[i]!;
      const dy = rays.y[i]!;
      const dz = rays.z[i]!;
      if ((nx * dx + ny * dy + nz * dz) * front <= 0) continue;
      const q = m[6] * dx + m[7] * dy + m[8] * dz;
      if (q * front <= 0) continue;
      const sx = (m[0] * dx + m[1] * dy + m[2] * dz) / q;
      const sy = (m[3] * dx + m[4] * dy + m[5] * dz) / q;
      if (sx < x0 || sx > x1 || sy < y0 || sy > y1) continue;
      shade.a = 1;
      layer.shade(sx, sy, pixel, shade, timeS);
      if (shade.a <= 0) continue;
      const k = j * p.width + i;
      const share = shade.a * weight;
      p.r[k] = p.r[k]! + shade.r * share;
      p.g[k] = p.g[k]! + shade.g * share;
      p.b[k] = p.b[k]! + shade.b * share;
      p.a[k] = p.a[k]! + share;
    }
  }
}
