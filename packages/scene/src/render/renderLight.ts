// Light that falls on a region of the sensor: layers shaded where the view sees them, blurred by depth, composited.
import type { Region } from '@blendrak/core/image';
import { blurDiameterPx } from '../optics/lens';
import type { View } from '../optics/view';
import { discBlur } from './discBlur';
import { layerAreaPx, layerMap, depthsDownRow } from './layerMap';
import { paintLayer, type PaintedLayer } from './paintLayer';
import type { Layer } from '../world/layer';
import type { Exposure, Light, OpenBlocks, Stage } from './stage';

// What is dimmer than this share behind other things is not drawn.
const COVERED = 1 / 1024;
const BLOCK = 32;
// A blur is computed on a grid on which its radius is at least this many steps: the result holds nothing finer.
const LEAST_RADIUS = 2.5;
const LARGEST_STEP = 16;

/**
 * Renders a region from near to far, leaving out what is covered.
 * Memory: about 45 bytes per pixel of the region and its blur margin. The result does not depend on how a picture is cut
 * into regions, up to the coarse grid of strong blur.
 */
export function renderLight(stage: Stage, exposure: Exposure, region: Region): Light {
  const n = region.width * region.height;
  const light: Light = {
    region,
    r: new Float32Array(n),
    g: new Float32Array(n),
    b: new Float32Array(n),
    depthMm: new Float32Array(n).fill(Infinity),
    layer: new Uint8Array(n).fill(255),
  };
  const through = new Float32Array(n).fill(1);
  const { layers } = stage.world;
  for (let k = layers.length - 1; k >= 0; k--) {
    const layer = layers[k]!;
    const radius = radiusByRow(stage, exposure, layer, region);
    const reach = radius ? Math.ceil(Math.max(radius(region.y), radius(region.y + region.height))) + 1 : 0;
    const area = layerAreaPx(stage, exposure.view, layer, region, reach);
    if (!area) continue;
    const open = openBlocks(through, region, area, reach);
    if (!open.any) continue;
    const step = radius ? stepFor(Math.min(radius(area.y), radius(area.y + area.height))) : 1;
    const map = layerMap(stage, exposure.view, layer);
    const painted = blurPainted(paintLayer(stage, exposure, layer, map, area, step, open), radius);
    if (composite(light, through, painted, k) < COVERED) break;
  }
  fillDepth(stage, exposure.view, light);
  return light;
}

/** Radius in px of the layer's blur by row of the picture; null where it stays below a third of a pixel. */
function radiusByRow(
  stage: Stage,
  { view, lens, focusMm }: Exposure,
  layer: Layer,
  region: Region,
): ((y: number) => number) | null {
  if (focusMm === null) return null;
  const depthOf = depthsDownRow(stage, view, layer, region.x + region.width / 2);
  const radius = (y: number): number => blurDiameterPx(lens, depthOf(y), focusMm) / 2;
  return Math.max(radius(region.y), radius(region.y + region.height)) < 0.34 ? null : radius;
}

function stepFor(radiusPx: number): number {
  let step = 1;
  while (step < LARGEST_STEP && radiusPx / (2 * step) >= LEAST_RADIUS) step *= 2;
  return step;
}

function openBlocks(through: Float32Array, region: Region, area: Region, reach: number): OpenBlocks {
  const across = Math.ceil(area.width / BLOCK);
  const down = Math.ceil(area.height / BLOCK);
  const flags = new Uint8Array(across * down);
  let any = false;
  for (let y = 0; y < region.height; y += 8) {
    for (let x = 0; x < region.width; x += 8) {
      if (!isOpen(through, region, x, y)) continue;
      // 8 px squares that let light through open every block from which blur can reach them.
      const x0 = Math.max(0, Math.floor((region.x + x - reach - area.x) / BLOCK));
      const x1 = Math.min(across - 1, Math.floor((region.x + x + 8 + reach - area.x) / BLOCK));
      const y0 = Math.max(0, Math.floor((region.y + y - reach - area.y) / BLOCK));
      const y1 = Math.min(down - 1, Math.floor((region.y + y + 8 + reach - area.y) / BLOCK));
      for (let j = y0; j <= y1; j++) {
        for (let i = x0; i <= x1; i++) {
          flags[j * across + i] = 1;
          any = true;
        }
      }
    }
  }
  return { any, across, size: BLOCK, flags };
}

function isOpen(through: Float32Array, region: Region, x: number, y: number): boolean {
  const right = Math.min(region.width, x + 8);
  const bottom = Math.min(region.height, y + 8);
  for (let yy = y; yy < bottom; yy++) {
    for (let xx = x; xx < right; xx++) if (through[yy * region.width + xx]! > COVERED) return true;
  }
  return false;
}

function blurPainted(p: PaintedLayer, radius: ((y: number) => number) | null): PaintedLayer {
  if (!radius) return p;
  // Interpolation between samples is a blur of its own, of variance step²/6 an axis; a disc's is r²/4.
  const own = p.step === 1 ? 0 : (2 / 3) * p.step ** 2;
  const ofRow = (row: number): number => Math.sqrt(Math.max(0, radius(p.y + (row + 0.5) * p.step) ** 2 - own)) / p.step;
  const blur = (data: Float32Array): Float32Array => discBlur({ width: p.width, height: p.height, data }, ofRow);
  return { ...p, r: blur(p.r), g: blur(p.g), b: blur(p.b), a: blur(p.a) };
}

/** Lays a painted layer behind what is there; returns the largest share of light that still gets through. */
function composite(light: Light, through: Float32Array, p: PaintedLayer, index: number): number {
  const { region, r, g, b } = light;
  // Interpolation between samples reaches one step beyond the outermost ones.
  const rim = p.step === 1 ? 0 : p.step;
  const x0 = Math.max(0, p.x - rim - region.x);
  const x1 = Math.min(region.width, p.x + p.width * p.step + rim - region.x);
  const y0 = Math.max(0, p.y - rim - region.y);
  const y1 = Math.min(region.height, p.y + p.height * p.step + rim - region.y);
  const lines = [0, 1, 2, 3].map(() => new Float32Array(region.width)) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const [red, green, blue, alpha] = lines;
  const scratch = new Float32Array(p.width + 4);
  // What lies wholly in the margin from which blur might have reached in draws nothing.
  for (let y = y0; y < y1 && x0 < x1; y++) {
    sampleRow(p, p.a, region, y, x0, x1, alpha, scratch);
    sampleRow(p, p.r, region, y, x0, x1, red, scratch);
    sampleRow(p, p.g, region, y, x0, x1, green, scratch);
    sampleRow(p, p.b, region, y, x0, x1, blue, scratch);
    for (let x = x0; x < x1; x++) {
      const a = alpha[x]!;
      if (a <= 0) continue;
      const i = y * region.width + x;
      const t = through[i]!;
      r[i] = r[i]! + t * red[x]!;
      g[i] = g[i]! + t * green[x]!;
      b[i] = b[i]! + t * blue[x]!;
      const left = t * (a > 1 ? 0 : 1 - a);
      if (t > 0.5 && left <= 0.5) light.layer[i] = index;
      through[i] = left;
    }
  }
  let most = 0;
  for (let i = 0; i < through.length; i++) if (through[i]! > most) most = through[i]!;
  return most;
}

/**
 * Part x0..x1 of a row of a painted channel at picture resolution: copied at step 1, else interpolated; 0 outside.
 * @param scratch room for one grid row and two samples beyond either end
 */
function sampleRow(
  p: PaintedLayer,
  data: Float32Array,
  region: Region,
  y: number,
  x0: number,
  x1: number,
  out: Float32Array,
  scratch: Float32Array,
): void {
  if (p.step === 1) {
    const from = (region.y + y - p.y) * p.width + region.x - p.x;
    out.set(data.subarray(from + x0, from + x1), x0);
    return;
  }
  const sy = (region.y + y + 0.5 - p.y) / p.step - 0.5;
  const j = Math.floor(sy);
  const upper = j >= 0 && j < p.height ? 1 - (sy - j) : 0;
  const lower = j + 1 >= 0 && j + 1 < p.height ? sy - j : 0;
  const at = j * p.width;
  for (let i = 0; i < p.width; i++) {
    scratch[i + 2] = (upper && upper * data[at + i]!) + (lower && lower * data[at + p.width + i]!);
  }
  const scale = 1 / p.step;
  let sx = (region.x + x0 + 0.5 - p.x) * scale - 0.5 + 2;
  for (let x = x0; x < x1; x++, sx += scale) {
    const i = sx | 0;
    const left = scratch[i]!;
    out[x] = left + (sx - i) * (scratch[i + 1]! - left);
  }
}

function fillDepth(stage: Stage, view: View, light: Light): void {
  const { region } = light;
  const depths = stage.world.layers.map((layer) => depthsDownRow(stage, view, layer, region.x + region.width / 2));
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const i = y * region.width + x;
      const k = light.layer[i]!;
      if (k !== 255) light.depthMm[i] = depths[k]!(region.y + y + 0.5);
    }
  }
}
