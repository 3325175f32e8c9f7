// A frame's pixels seen from the canvas of a merge: mapped by the true pose, toned, interpolated.
import { linearToSrgb, srgbToLinear, type Region } from '@blendrak/core/image';
import { vignetteAt } from '../optics/lens';
import { castRow, makeRayRow, projectRow, type View } from '../optics/view';
import { encodeLight } from '../render/sensor';
import { smooth } from '../world/layer';
import type { PlannedShot, SetPlan } from '../shoot/planSet';

/** Pixels of a part of a frame's file, interleaved RGB. */
export interface FrameBlock {
  readonly region: Region;
  readonly data: Uint8Array | Uint16Array;
}

/** Delivers a part of a frame's file; the region lies within the frame. */
export type ReadFrame = (frame: number, region: Region) => FrameBlock;

/** File values above this share of the greatest count as clipped. */
const CLIPPED_CODE = 0.97;

/** Light and its slope in the logarithmic tone curve of a bracket's merge: code = log(1 + 60·E) / log(1 + 60·14). */
const LOG_SLOPE = 60;
const LOG_TOP = Math.log(1 + LOG_SLOPE * 14);

/** How light becomes the code value of the merge, 0..1: sRGB, or for a bracket a logarithmic curve that holds its range. */
export function mergeTone(kind: SetPlan['kind']): (light: number) => number {
  if (kind !== 'bracket') return encodeLight;
  return (light) => Math.min(1, Math.log(1 + LOG_SLOPE * Math.max(0, light)) / LOG_TOP);
}

/** Inverse of mergeTone. */
export function mergeLight(kind: SetPlan['kind']): (code: number) => number {
  if (kind !== 'bracket') return srgbToLinear;
  return (code) => (Math.exp(code * LOG_TOP) - 1) / LOG_SLOPE;
}

/** Code values of a frame's file → code values of the merge, with the frame's own exposure taken out. */
export function toneTable(plan: SetPlan, frame: number, bits: 8 | 16): Float32Array {
  const { gain } = shotOf(plan, frame);
  const n = bits === 8 ? 256 : 65536;
  if (plan.kind === 'bracket') {
    const tone = mergeTone('bracket');
    return Float32Array.from({ length: n }, (_, i) => {
      const v = i / (n - 1);
      const code = tone(srgbToLinear(v) / gain);
      // What is clipped in the file is white in the merge, whatever its exposure was.
      return code + (1 - code) * smooth(CLIPPED_CODE, 1, v);
    });
  }
  const drift = gain / 2 ** shotOf(plan, frame).intendedEv;
  return Float32Array.from({ length: n }, (_, i) => linearToSrgb(srgbToLinear(i / (n - 1)) / drift));
}

/** The shot whose geometry and exposure a delivered frame has. */
export function shotOf(plan: SetPlan, frame: number): PlannedShot {
  return plan.shots[plan.frames[frame]!.shot]!;
}

/** px of the canvas by which a pixel takes its picture from elsewhere; null for its own place. */
export type PixelShift = (x: number, y: number) => readonly [number, number] | null;

/** A frame on a region of the canvas. */
export interface PlacedFrame {
  /** Interleaved RGB code values of the merge. */
  readonly rgb: Float32Array;
  /** 1 where the frame has picture, with room for interpolation. */
  readonly inside: Uint8Array;
  /** 1 where the file is clipped in some channel. */
  readonly clipped: Uint8Array;
}

/** Whether a panorama's stitcher takes the vignetting out; stacks and brackets carry it into the merge. */
export function isLevelled(plan: SetPlan): boolean {
  return plan.kind === 'panorama';
}

/**
 * Maps a region of the canvas into a frame and samples it (Catmull–Rom).
 * @param read delivers pixels of this frame
 * @param only skips pixels of weight 0 and takes the others from elsewhere by a shift; all in their places when left out
 * @returns null when the frame does not reach the region
 */
export function placeFrame(
  plan: SetPlan,
  canvas: View,
  region: Region,
  frame: number,
  table: Float32Array,
  read: ReadFrame,
  only?: { readonly weight: Float32Array; readonly shift: PixelShift },
): PlacedFrame | null {
  const shot = shotOf(plan, frame);
  const { view } = shot;
  const n = region.width * region.height;
  const px = new Float64Array(n);
  const py = new Float64Array(n);
  const bounds = mapRegion(canvas, region, view, px, py, only?.shift);
  if (!bounds) return null;
  const block = read(frame, bounds);
  const toned = applyTable(block.data, table);
  const placed: PlacedFrame = {
    rgb: new Float32Array(n * 3),
    inside: new Uint8Array(n),
    clipped: new Uint8Array(n),
  };
  for (let i = 0; i < n; i++) {
    if (only && only.weight[i] === 0) continue;
    const x = px[i]!;
    const y = py[i]!;
    // Not a number (behind the camera) fails every comparison.
    if (!(x >= 2 && y >= 2 && x <= view.width - 2 && y <= view.height - 2)) continue;
    placed.inside[i] = 1;
    sampleCubic(toned, block.region.width, x - 0.5 - block.region.x, y - 0.5 - block.region.y, placed.rgb, 3 * i);
    const under = (Math.floor(y) - block.region.y) * block.region.width + Math.floor(x) - block.region.x;
    placed.clipped[i] = isFull(block.data, 3 * under, CLIPPED_CODE * (table.length - 1)) ? 1 : 0;
  }
  const { vignetting } = shot.lens;
  if (vignetting !== 0 && isLevelled(plan)) level(placed, view, vignetting, px, py);
  return placed;
}

/** Fills px, py with where each pixel's centre falls in the frame; returns the part of the frame that needs reading. */
function mapRegion(
  canvas: View,
  region: Region,
  view: View,
  px: Float64Array,
  py: Float64Array,
  shift?: PixelShift,
): Region | null {
  const rays = makeRayRow(region.width);
  const one = makeRayRow(1);
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let y = 0; y < region.height; y++) {
    const at = y * region.width;
    castRow(canvas, region.y + y + 0.5, region.x, 1, region.width, rays);
    if (shift) {
      for (let x = 0; x < region.width; x++) {
        const by = shift(region.x + x, region.y + y);
        if (!by) continue;
        castRow(canvas, region.y + y + 0.5 + by[1], region.x + x + by[0], 1, 1, one);
        rays.x[x] = one.x[0]!;
        rays.y[x] = one.y[0]!;
        rays.z[x] = one.z[0]!;
      }
    }
    projectRow(view, rays, region.width, px.subarray(at), py.subarray(at));
    for (let i = at; i < at + region.width; i++) {
      if (!(px[i]! >= 0 && px[i]! <= view.width && py[i]! >= 0 && py[i]! <= view.height)) continue;
      x0 = Math.min(x0, px[i]!);
      x1 = Math.max(x1, px[i]!);
      y0 = Math.min(y0, py[i]!);
      y1 = Math.max(y1, py[i]!);
    }
  }
  if (x1 < x0) return null;
  const left = Math.max(0, Math.floor(x0) - 3);
  const top = Math.max(0, Math.floor(y0) - 3);
  return {
    x: left,
    y: top,
    width: Math.min(view.width, Math.ceil(x1) + 4) - left,
    height: Math.min(view.height, Math.ceil(y1) + 4) - top,
  };
}

function applyTable(data: Uint8Array | Uint16Array, table: Float32Array): Float32Array {
  const out = new Float32Array(data.length);
  for (let i = 0; i < data.length; i++) out[i] = table[data[i]!]!;
  return out;
}

function isFull(data: Uint8Array | Uint16Array, at: number, top: number): boolean {
  return data[at]! >= top || data[at + 1]! >= top || data[at + 2]! >= top;
}

/**
 * Catmull–Rom interpolation of three interleaved channels (Keys 1981, a = −½).
 * @param sx, sy position in samples; its 4 × 4 neighbours lie within the data
 */
function sampleCubic(data: Float32Array, stride: number, sx: number, sy: number, out: Float32Array, to: number): void {
  const ix = Math.floor(sx);
  const iy = Math.floor(sy);
  const t = sx - ix;
  const u = sy - iy;
  const wx0 = ((-0.5 * t + 1) * t - 0.5) * t;
  const wx1 = (1.5 * t - 2.5) * t * t + 1;
  const wx3 = (0.5 * t - 0.5) * t * t;
  const wx2 = 1 - wx0 - wx1 - wx3;
  const wy0 = ((-0.5 * u + 1) * u - 0.5) * u;
  const wy1 = (1.5 * u - 2.5) * u * u + 1;
  const wy3 = (0.5 * u - 0.5) * u * u;
  const wy2 = 1 - wy0 - wy1 - wy3;
  let r = 0;
  let g = 0;
  let b = 0;
  let at = ((iy - 1) * stride + ix - 1) * 3;
  for (let k = 0; k < 4; k++, at += stride * 3) {
    const w = k === 0 ? wy0 : k === 1 ? wy1 : k === 2 ? wy2 : wy3;
    r += w * (wx0 * data[at]! + wx1 * data[at + 3]! + wx2 * data[at + 6]! + wx3 * data[at + 9]!);
    g += w * (wx0 * data[at + 1]! + wx1 * data[at + 4]! + wx2 * data[at + 7]! + wx3 * data[at + 10]!);
    b += w * (wx0 * data[at + 2]! + wx1 * data[at + 5]! + wx2 * data[at + 8]! + wx3 * data[at + 11]!);
  }
  out[to] = r;
  out[to + 1] = g;
  out[to + 2] = b;
}

function level(placed: PlacedFrame, view: View, vignetting: number, px: Float64Array, py: Float64Array): void {
  const half = view.halfDiagonalPx;
  for (let i = 0; i < placed.inside.length; i++) {
    if (!placed.inside[i]) continue;
    const r = Math.hypot(px[i]! - view.principal[0], py[i]! - view.principal[1]) / half;
    const lift = 1 / vignetteAt(vignetting, r);
    for (let c = 3 * i; c < 3 * i + 3; c++)
      placed.rgb[c] = linearToSrgb(srgbToLinear(Math.max(0, placed.rgb[c]!)) * lift);
  }
}
