// The canvas of a panorama in a projection: size, where each frame lies, what a crop leaves, how much it bends and stretches.
import { transposed, turn, unit, cross, type CameraRig, type FrameSize, type Vector3 } from '../align';
import {
  canvasRay,
  composeMatrix,
  frameToMerge,
  largestRectangle,
  mergeToFrame,
  type Canvas,
  type Matrix3,
  type Projection,
  type Region,
  type TurnedView,
} from '../image';

export interface PanoramaLayout {
  readonly canvas: Canvas;
  readonly width: number;
  readonly height: number;
  readonly views: readonly TurnedView[];
  /** Share of the canvas that some frame covers. */
  readonly coverage: number;
  /** The largest rectangle without empty places, canvas px. */
  readonly crop: Region;
  /** Share of the covered area that the crop loses. */
  readonly cropLoss: number;
  /** Largest stretch inside the crop against its middle, as a ratio of lengths: 1 is none. */
  readonly stretch: number;
  /** Largest bend of a line across a frame that is straight in the world, as a share of its length. */
  readonly bend: number;
}

/** Field of view, rad. */
export interface FieldOfView {
  readonly across: number;
  readonly up: number;
}

/** A flat canvas reaches no farther than this from its axis: beyond it stretches without bound. */
const FLAT_LIMIT_RAD = (62 * Math.PI) / 180;
/** Longest side of the grid on which coverage is judged. */
const GRID_CELLS = 480;
const BORDER_STEPS = 24;
const NO_VIGNETTING = [0, 0] as const;

/**
 * Lays a panorama out.
 * @param down world direction that becomes down on the canvas
 * @param vignetting of the lens, see TurnedView; default none
 * @returns null where the projection cannot show the set: a flat one beyond 124°
 * Cost: a few 100,000 projections.
 */
export function layOutPanorama(
  rig: CameraRig,
  sizes: readonly FrameSize[],
  down: Vector3,
  projection: Projection,
  vignetting: readonly [number, number] = NO_VIGNETTING,
): PanoramaLayout | null {
  const axes = canvasAxes(rig, down);
  const focalPx = middleOf(rig.focalPx);
  const viewsOn = (canvas: Canvas): TurnedView[] =>
    sizes.map((size, k) => ({
      model: 'rotating-camera',
      canvas,
      rotation: composeMatrix(rig.rotations[k]!, transposed(axes)),
      focalPx: rig.focalPx[k]!,
      centre: [size.width / 2, size.height / 2],
      halfDiagonalPx: Math.hypot(size.width, size.height) / 2,
      distortion: rig.distortion,
      vignetting,
    }));
  const free: Canvas = { projection, focalPx, axis: [0, 0] };
  const [x0, y0, x1, y1] = extentOf(viewsOn(free), sizes);
  if (projection === 'flat') {
    const reach = focalPx * Math.tan(FLAT_LIMIT_RAD);
    if (!(x1 - x0 > 0 && x0 > -reach && x1 < reach && y0 > -reach && y1 < reach)) return null;
  }
  const canvas: Canvas = { ...free, axis: [-Math.floor(x0), -Math.floor(y0)] };
  const width = Math.ceil(x1) - Math.floor(x0);
  const height = Math.ceil(y1) - Math.floor(y0);
  const views = viewsOn(canvas);
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
  return {
    canvas,
    width,
    height,
    views,
    coverage: covered / (across * tall),
    crop,
    cropLoss: covered > 0 ? 1 - (clean.width * clean.height) / covered : 1,
    stretch: stretchOf(canvas, crop),
    bend: bendOf(views, sizes),
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
export function fieldOfView(rig: CameraRig, sizes: readonly FrameSize[], down: Vector3): FieldOfView {
  const layout = layOutPanorama(rig, sizes, down, 'spherical')!;
  return { across: layout.width / layout.canvas.focalPx, up: layout.height / layout.canvas.focalPx };
}

/** Bounding box of all frames' borders; infinite where a border lies behind a flat canvas. */
function extentOf(views: readonly TurnedView[], sizes: readonly FrameSize[]): [number, number, number, number] {
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
  views: readonly TurnedView[],
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

/** Canvas length per angle at the corners and sides of the crop against its middle, the most. */
function stretchOf(canvas: Canvas, crop: Region): number {
  const scaleAt = (x: number, y: number): number => {
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
  };
  const middle = scaleAt(crop.x + crop.width / 2, crop.y + crop.height / 2);
  const places = [0, 0.5, 1].flatMap((u) =>
    [0, 0.5, 1].map((v) => [crop.x + u * crop.width, crop.y + v * crop.height]),
  );
  return Math.max(...places.map(([x, y]) => scaleAt(x!, y!))) / middle;
}

/** Lines from side to side of each frame, and from top to bottom: what is straight in a frame is straight in the world. */
function bendOf(views: readonly TurnedView[], sizes: readonly FrameSize[]): number {
  const chords = [0.15, 0.5, 0.85].flatMap((s) => [
    [0.05, s, 0.95, s],
    [s, 0.05, s, 0.95],
  ]);
  let worst = 0;
  views.forEach((view, k) => {
    const { width, height } = sizes[k]!;
    // Straight places of the frame: its own distortion is taken out by the view.
    const straight = { ...view, distortion: [0, 0] as const };
    for (const [ax, ay, bx, by] of chords as [number, number, number, number][]) {
      const at = (t: number) => frameToMerge(straight, (ax + t * (bx - ax)) * width, (ay + t * (by - ay)) * height);
      const [a, m, b] = [at(0), at(0.5), at(1)];
      if (!a || !m || !b) continue;
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
      const off = Math.abs((b[0] - a[0]) * (m[1] - a[1]) - (b[1] - a[1]) * (m[0] - a[0])) / length;
      worst = Math.max(worst, off / length);
    }
  });
  return worst;
}
