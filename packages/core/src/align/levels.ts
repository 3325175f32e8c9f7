// Working copies for registration: a pyramid of locally normalised luma, so that exposure and blur hardly matter.
import { badParameter } from '../checks';
import { makePlane, type Mask, type Plane } from '../image';
import { allocPlanes, planeView, smoothTwice, uploadPlanes, type Kernels } from '../kernels';

/** One level: normalised detail and its central differences; `factor` = full size / this size. */
export interface AlignLevel {
  readonly factor: number;
  readonly detail: Plane;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
  /** Of a reference: 1 where pixels count; all do when it is left out. */
  readonly use?: Uint8Array;
}

const MIN_SHORT_SIDE = 24;
// Window of the local normalisation: wide enough to hold an edge pair, narrow enough to follow shading.
const NORMALISE_RADIUS = 4;
/** Means of what is even err by this much, encoded; a step of 16 bits is ten times as large. */
const ROUNDING = 1e-6;

/**
 * Levels from coarse to fine of one luma plane.
 * @param luma encoded luma 0..1; its own size is the finest level
 * @param noiseVariance luma noise variance at that size: detail below it is damped, not amplified
 * @throws ParameterError when the plane is smaller than 24 px on a side
 */
export function alignLevels(kernels: Kernels, luma: Plane, noiseVariance: number): AlignLevel[] {
  checkLuma('alignLevels', luma);
  const planes = [luma];
  for (let last = luma; canHalve(last); planes.push(last)) last = halve(last);
  return planes.map((plane, l) => makeLevel(kernels, plane, 2 ** l, noiseVariance / 4 ** l)).reverse();
}

/**
 * The finest of these levels whose longer side is no longer than asked for; the coarsest there is when all are longer.
 * @param longSidePx default: the finest of all
 * @throws ParameterError when the plane is smaller than 24 px on a side
 */
export function alignLevel(kernels: Kernels, luma: Plane, noiseVariance: number, longSidePx = Infinity): AlignLevel {
  checkLuma('alignLevel', luma);
  let [plane, factor] = [luma, 1];
  while (Math.max(plane.width, plane.height) > longSidePx && canHalve(plane)) {
    plane = halve(plane);
    factor *= 2;
  }
  return makeLevel(kernels, plane, factor, noiseVariance / factor ** 2);
}

function checkLuma(of: string, { width, height }: Plane): void {
  if (Math.min(width, height) < MIN_SHORT_SIDE)
    throw badParameter(`${of}.luma.size`, `at least ${MIN_SHORT_SIDE} px on each side`, [width, height]);
}

function canHalve({ width, height }: Plane): boolean {
  return Math.min(width, height) >= 2 * MIN_SHORT_SIDE;
}

/**
 * The same levels of a reference with only a marked subject counting.
 * @param subject mask over the whole picture, of any size: 1 where the subject is
 * @throws ParameterError for a subject that holds next to nothing on the finest level
 */
export function onSubject(levels: readonly AlignLevel[], subject: Mask): AlignLevel[] {
  const masked = levels.map((level) => {
    const { width, height } = level.detail;
    const use = new Uint8Array(width * height);
    for (let y = 0; y < height; y++) {
      const row = Math.floor(((y + 0.5) * subject.height) / height) * subject.width;
      for (let x = 0; x < width; x++)
        use[y * width + x] = subject.data[row + Math.floor(((x + 0.5) * subject.width) / width)]!;
    }
    return { ...level, use };
  });
  // Levels on which the subject is a few pixels say nothing of it.
  const telling = masked.filter((l) => l.use.reduce((s, v) => s + v, 0) >= LEAST_SUBJECT_PX);
  if (telling.length === 0) {
    const share = subject.data.reduce((s, v) => s + v, 0) / subject.data.length;
    throw badParameter('onSubject.subject', 'a subject of some size', `${(100 * share).toFixed(2)} % of the picture`);
  }
  return telling;
}

const LEAST_SUBJECT_PX = 150;

/** 2 × 2 means; an odd last row or column is dropped so that coordinates scale exactly by 2. */
export function halve(plane: Plane): Plane {
  const width = Math.floor(plane.width / 2);
  const height = Math.floor(plane.height / 2);
  const out = makePlane(width, height);
  for (let y = 0; y < height; y++) {
    let at = 2 * y * plane.width;
    for (let x = 0; x < width; x++, at += 2) {
      const sum =
        plane.data[at]! + plane.data[at + 1]! + plane.data[at + plane.width]! + plane.data[at + plane.width + 1]!;
      out.data[y * width + x] = 0.25 * sum;
    }
  }
  return out;
}

function makeLevel(kernels: Kernels, plane: Plane, factor: number, noiseVariance: number): AlignLevel {
  const { width, height } = plane;
  const detail = normalisedDetail(kernels, plane, 4 * noiseVariance + 1e-6);
  const { data } = detail;
  const dx = new Float32Array(width * height);
  const dy = new Float32Array(width * height);
  for (let y = 1; y < height - 1; y++) {
    for (let i = y * width + 1; i < (y + 1) * width - 1; i++) {
      dx[i] = 0.5 * (data[i + 1]! - data[i - 1]!);
      dy[i] = 0.5 * (data[i + width]! - data[i - width]!);
    }
  }
  return { factor, detail, dx, dy };
}

/** What departs from the mean around, over its own strength there; `floor` is a variance that counts as none. */
function normalisedDetail(kernels: Kernels, plane: Plane, floor: number): Plane {
  const { width, height } = plane;
  return kernels.scope(() => {
    const source = uploadPlanes(kernels, [plane.data], width, height);
    const smooth = allocPlanes(kernels, width, height);
    smoothTwice(kernels, source, smooth, NORMALISE_RADIUS);
    const detail = makePlane(width, height);
    const mean = planeView(kernels, smooth);
    const square = planeView(kernels, source);
    for (let i = 0; i < mean.length; i++) {
      const apart = plane.data[i]! - mean[i]!;
      const d = Math.abs(apart) < ROUNDING ? 0 : apart;
      detail.data[i] = d;
      square[i] = d * d;
    }
    smoothTwice(kernels, source, smooth, NORMALISE_RADIUS * 2);
    const variance = planeView(kernels, smooth);
    for (let i = 0; i < variance.length; i++) detail.data[i]! /= Math.sqrt(variance[i]! + floor);
    return detail;
  });
}
