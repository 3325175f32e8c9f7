// A panorama laid out: size, where each frame lies, what a crop leaves, how much lines bend and things stretch.
import { FLAT_LIMIT_DEG } from '../plan';
import { transposed, turn, unit, cross, type CameraRig, type FrameLine, type Vector3 } from '../align';
import {
  type Canvas,
  canvasRay,
  composeMatrix,
  frameRay,
  frameToMerge,
  type FrameGeometry,
  type LocalField,
  type Matrix3,
  mergeToFrame,
  type Projection,
  type TurnedGeometry,
  type FrameSize,
  IDENTITY,
  inAnotherMerge,
} from '../frame';
import { largestRectangle, type Region } from '../image';
import { repositionFrames } from './repositionFrames';

/** On a canvas, or each frame as it is, only shifted and turned. */
export type LayoutName = Projection | 'repositioned';

/** What is known of the frames of a panorama. */
export interface PanoramaFrames {
  readonly rig: CameraRig;
  readonly sizes: readonly FrameSize[];
  /** World direction that becomes down in the merge. */
  readonly down: Vector3;
  /** See LensShade; none when left out. */
  readonly vignetting?: readonly [number, number];
  /** Local shifts per frame, null where a frame has none. */
  readonly locals?: readonly (LocalField | null)[];
  /** Straight lines per frame, on which bending is judged; chords of the frames when left out or fewer than three in all. */
  readonly lines?: readonly (readonly FrameLine[])[];
}

export interface PanoramaLayout {
  readonly name: LayoutName;
  readonly width: number;
  readonly height: number;
  /** px per radian in the middle of the merge. */
  readonly focalPx: number;
  readonly views: readonly FrameGeometry[];
  /** Share of the merge that some frame covers. */
  readonly coverage: number;
  /** The largest rectangle without empty places, px. */
  readonly crop: Region;
  /** Share of the covered area that the crop loses. */
  readonly cropLoss: number;
  /** Largest stretch inside the crop against its middle, as a ratio of lengths: 1 is none. */
  readonly stretch: number;
  /** Largest bend of a line that is straight in the world, as a share of its length. */
  readonly bend: number;
  /** How far neighbours miss each other where they meet, 90 % of places, px: what the layout cannot show. */
  readonly misfitPx: number;
}

/** Field of view, rad. */
export interface FieldOfView {
  readonly across: number;
  readonly up: number;
}

/** A flat canvas reaches no farther than this from its axis: beyond it stretches without bound. */
const FLAT_LIMIT_RAD = ((FLAT_LIMIT_DEG / 2) * Math.PI) / 180;
/** Longest side of the grid on which coverage is judged. */
const GRID_CELLS = 480;
const BORDER_STEPS = 24;
const NO_VIGNETTING = [0, 0] as const;
/** With fewer lines than this chance decides which way they run. */
const LEAST_LINES = 3;

/**
 * Lays a panorama out.
 * @returns null where the projection cannot show the set: a flat one beyond 120°
 * Cost: a few 100,000 projections.
 */
export function layOutPanorama(frames: PanoramaFrames, name: LayoutName): PanoramaLayout | null {
  const focalPx = middleOf(frames.rig.focalPx);
  if (name === 'repositioned') {
    const onSphere = turnedViews(frames, { projection: 'spherical', focalPx, axis: [0, 0] });
    const { views, misfitPx } = repositionFrames(onSphere, frames.sizes);
    const shaded = views.map((view, k) => {
      const { centre, halfDiagonalPx, vignetting, local } = onSphere[k]!;
      return { ...view, shade: { centre, halfDiagonalPx, vignetting }, ...(local && { local }) };
    });
    return { ...measured(frames, shaded, () => 1), name, focalPx, misfitPx };
  }
  const canvas: Canvas = { projection: name, focalPx, axis: [0, 0] };
  const views = turnedViews(frames, canvas);
  if (name === 'flat') {
    const [x0, y0, x1, y1] = extentOf(views, frames.sizes);
    const reach = focalPx * Math.tan(FLAT_LIMIT_RAD);
    if (!(x1 - x0 > 0 && x0 > -reach && x1 < reach && y0 > -reach && y1 < reach)) return null;
  }
  return { ...measured(frames, views, (x, y) => lengthPerAngle(canvas, x, y)), name, focalPx, misfitPx: 0 };
}

/** The frames as turned cameras on a canvas. */
export function turnedViews(
  { rig, sizes, down, vignetting, locals }: PanoramaFrames,
  canvas: Canvas,
): TurnedGeometry[] {
  const axes = canvasAxes(rig, down);
  return sizes.map((size, k) => {
    const local = locals?.[k];
    return {
      model: 'rotating-camera',
      canvas,
      rotation: composeMatrix(rig.rotations[k]!, transposed(axes)),
      focalPx: rig.focalPx[k]!,
      centre: [size.width / 2, size.height / 2],
      halfDiagonalPx: Math.hypot(size.width, size.height) / 2,
      distortion: rig.distortion,
      vignetting: vignetting ?? NO_VIGNETTING,
      ...(local && { local }),
    };
  });
}

type Measured = Omit<PanoramaLayout, 'name' | 'focalPx' | 'misfitPx'>;

/**
 * Views whose merge begins anywhere, moved so that it begins at 0, and what comes of them.
 * @param lengthAt length per angle at a place of the merge as given
 */
function measured(
  { rig, sizes, lines }: PanoramaFrames,
  given: readonly FrameGeometry[],
  lengthAt: (x: number, y: number) => number,
): Measured {
  const [x0, y0, x1, y1] = extentOf(given, sizes);
  const [left, top] = [Math.floor(x0), Math.floor(y0)];
  const width = Math.ceil(x1) - left;
  const height = Math.ceil(y1) - top;
  const views = given.map((v) => inAnotherMerge(v, { ...IDENTITY, tx: left, ty: top }));
  const cell = Math.max(1, Math.max(width, height) / GRID_CELLS);
  const across = Math.max(1, Math.floor(width / cell));
  const tall = Math.max(1, Math.floor(height / cell));
  const mask = new Uint8Array(across * tall);
  let covered = 0;
  for (let y = 0; y < tall; y++) {
    for (let x = 0; x < across; x++) {
      if (!isCovered(views, sizes, (x + 0.5) * cell, (y + 0.5) * cell, cell / 2 + 2)) continue;
      mask[y * across + x] = 1;
      covered += 1;
    }
  }
  const clean = largestRectangle(mask, across, tall);
  const crop = {
    x: Math.ceil(clean.x * cell),
    y: Math.ceil(clean.y * cell),
    width: Math.floor(clean.width * cell),
    height: Math.floor(clean.height * cell),
  };
  const known = (lines ?? []).reduce((n, of) => n + of.length, 0) >= LEAST_LINES;
  return {
    width,
    height,
    views,
    coverage: covered / (across * tall),
    crop,
    cropLoss: covered > 0 ? 1 - (clean.width * clean.height) / covered : 1,
    stretch: stretchOf((x, y) => lengthAt(x + left, y + top), crop),
    bend: bendOf(views, sizes, rig.distortion, known ? lines! : sizes.map(chordsOf)),
  };
}

/** A layout cut to a part of it. */
export function cutLayout(layout: PanoramaLayout, part: Region): PanoramaLayout {
  return {
    ...layout,
    width: part.width,
    height: part.height,
    views: layout.views.map((v) => inAnotherMerge(v, { ...IDENTITY, tx: part.x, ty: part.y })),
    crop: { x: 0, y: 0, width: part.width, height: part.height },
  };
}

/** World → canvas axes: y down, z ahead and level, towards the middle of the frames. */
function canvasAxes(rig: CameraRig, down: Vector3): Matrix3 {
  const ahead = rig.rotations
    .map((r) => turn(transposed(r), [0, 0, 1]))
    .reduce<Vector3>((s, v) => [s[0] + v[0], s[1] + v[1], s[2] + v[2]], [0, 0, 0]);
  const x = unit(cross(down, ahead));
  const z = cross(x, down);
  return [...x, ...down, ...z];
}

function middleOf(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1]!;
}

/** Field of view of all frames together as seen on a sphere. */
export function fieldOfView(frames: PanoramaFrames): FieldOfView {
  const focalPx = middleOf(frames.rig.focalPx);
  const views = turnedViews(frames, { projection: 'spherical', focalPx, axis: [0, 0] });
  const [x0, y0, x1, y1] = extentOf(views, frames.sizes);
  return { across: (x1 - x0) / focalPx, up: (y1 - y0) / focalPx };
}

/** Bounding box of all frames' borders; infinite where a border lies behind a flat canvas. */
function extentOf(views: readonly FrameGeometry[], sizes: readonly FrameSize[]): [number, number, number, number] {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [k, view] of views.entries()) {
    for (const [x, y] of borderOf(sizes[k]!)) {
      const at = frameToMerge(view, x, y);
      if (!at) return [-Infinity, -Infinity, Infinity, Infinity];
      x0 = Math.min(x0, at[0]);
      x1 = Math.max(x1, at[0]);
      y0 = Math.min(y0, at[1]);
      y1 = Math.max(y1, at[1]);
    }
  }
  return [x0, y0, x1, y1];
}

function borderOf({ width, height }: FrameSize): [number, number][] {
  return Array.from({ length: BORDER_STEPS + 1 }, (_, n) => n / BORDER_STEPS).flatMap((s): [number, number][] => [
    [s * width, 0],
    [s * width, height],
    [0, s * height],
    [width, s * height],
  ]);
}

function isCovered(
  views: readonly FrameGeometry[],
  sizes: readonly FrameSize[],
  x: number,
  y: number,
  rim: number,
): boolean {
  return views.some((view, k) => {
    const at = mergeToFrame(view, x, y);
    const { width, height } = sizes[k]!;
    return at !== null && at[0] >= rim && at[1] >= rim && at[0] <= width - rim && at[1] <= height - rim;
  });
}

/** Length on a canvas per angle at a place, the most over directions. */
function lengthPerAngle(canvas: Canvas, x: number, y: number): number {
  const here = unit(canvasRay(canvas, x, y));
  return Math.max(
    ...[
      [1, 0],
      [0, 1],
      [0.7071, 0.7071],
      [0.7071, -0.7071],
    ].map(([dx, dy]) => {
      const there = unit(canvasRay(canvas, x + dx!, y + dy!));
      return 1 / Math.hypot(there[0] - here[0], there[1] - here[1], there[2] - here[2]);
    }),
  );
}

/** Length per angle at the corners and sides of the crop against its middle, the most. */
function stretchOf(lengthAt: (x: number, y: number) => number, crop: Region): number {
  const places = [0, 0.5, 1].flatMap((u) =>
    [0, 0.5, 1].map((v) => lengthAt(crop.x + u * crop.width, crop.y + v * crop.height)),
  );
  return Math.max(...places) / lengthAt(crop.x + crop.width / 2, crop.y + crop.height / 2);
}

/** Lines from side to side of a frame, and from top to bottom. */
function chordsOf({ width, height }: FrameSize): FrameLine[] {
  return [0.15, 0.5, 0.85].flatMap((s): FrameLine[] => [
    [0.05 * width, s * height, 0.95 * width, s * height],
    [s * width, 0.05 * height, s * width, 0.95 * height],
  ]);
}

/** The largest distance of a line's middle and quarters from its chord, as a share of the chord. */
function bendOf(
  views: readonly FrameGeometry[],
  sizes: readonly FrameSize[],
  distortion: readonly [number, number],
  lines: readonly (readonly FrameLine[])[],
): number {
  let worst = 0;
  views.forEach((view, k) => {
    const { width, height } = sizes[k]!;
    const lens = {
      centre: [width / 2, height / 2] as const,
      halfDiagonalPx: Math.hypot(width, height) / 2,
      distortion,
    };
    for (const [ax, ay, bx, by] of lines[k] ?? []) {
      // What is straight in the world is straight once the lens's own bending is taken out.
      const [p, q] = [frameRay(lens, ax, ay), frameRay(lens, bx, by)];
      const at = (t: number): [number, number] | null => {
        const [sx, sy] = [p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])];
        const r2 = (sx * sx + sy * sy) / lens.halfDiagonalPx ** 2;
        const drawn = 1 + r2 * (distortion[0] + r2 * distortion[1]);
        return frameToMerge(view, lens.centre[0] + drawn * sx, lens.centre[1] + drawn * sy);
      };
      const [a, b] = [at(0), at(1)];
      if (!a || !b) continue;
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
      for (const t of [0.25, 0.5, 0.75]) {
        const m = at(t);
        if (!m) continue;
        const off = Math.abs((b[0] - a[0]) * (m[1] - a[1]) - (b[1] - a[1]) * (m[0] - a[0])) / length;
        worst = Math.max(worst, off / length);
      }
    }
  });
  return worst;
}
