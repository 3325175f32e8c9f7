// Tasks of a panorama's alignment: `points`, `relate`, `ties`, `adjust`, `upright`, `light`.
import {
  adjustBundle,
  findLines,
  findPoints,
  findUpright,
  matchPoints,
  measureTies,
  estimateRelativeRotation,
  type AdjustedRig,
  type CameraRig,
  type KeyPoint,
  type LightPair,
  type MeasuredTie,
  type UprightFrame,
} from '@blendrak/core/align';
import { frameToMerge, type LensView, mergeToFrame, type TurnedGeometry, type FrameSize } from '@blendrak/core/frame';
import { sampleBilinear, srgbToLinear } from '@blendrak/core/image';
import { threadKernels } from '../kernelHost';
import type { RelatedFrames, TaskRequest, TaskResponse } from '../protocol';
import { tileFile } from '../sources';
import { colourPlanes, levelFor, tellingPlane, working, WORK_LONG_SIDE } from '../workingLevels';

const POINTS_LONG_SIDE = 1300;
/** A panorama holds many frames. */
const MANY_LONG_SIDE = 4200;
const MANY_POINTS = 3000;
const COARSE_LONG_SIDE = 450;
const UPRIGHT_LONG_SIDE = 900;
const LIGHT_LONG_SIDE = 420;
/** A match may lie this share of the frame's length from its place: lens distortion is not known yet. */
const TOLERANCE = 0.006;

export function pointsTask({ picture, mirrored, many }: TaskRequest<'points'>): KeyPoint[] {
  const file = tileFile(picture.tiles);
  const level = levelFor(file, many ? MANY_LONG_SIDE : POINTS_LONG_SIDE);
  const { plane, noise } = tellingPlane(picture, file, level);
  if (mirrored)
    for (let y = 0; y < plane.height; y++) plane.data.subarray(y * plane.width, (y + 1) * plane.width).reverse();
  const unit = 2 ** level;
  return findPoints(threadKernels(), plane, noise, many ? { count: MANY_POINTS } : {}).map((p) => ({
    ...p,
    x: p.x * unit,
    y: p.y * unit,
  }));
}

export function relateTask({ frames, pairs, focalPx, guided }: TaskRequest<'relate'>): (RelatedFrames | null)[] {
  return pairs.map(([i, j]) => {
    const a = frames[i]!;
    const b = frames[j]!;
    const matches = matchPoints(threadKernels(), a.points, b.points);
    const tolerance = TOLERANCE * Math.max(b.size.width, b.size.height);
    let best: RelatedFrames | null = null;
    for (const focal of focalPx) {
      const camera = (size: FrameSize) => ({ ...plainLens(size), focalPx: focal });
      const [from, to] = [camera(a.size), camera(b.size)];
      const found = estimateRelativeRotation(a.points, b.points, matches, from, to, tolerance, { guided });
      if (!found || (best && found.inliers.length <= best.places.length)) continue;
      best = {
        rotation: found.rotation,
        focalPx: focal,
        places: found.inliers.map((m) => {
          const [p, q] = [a.points[m.a]!, b.points[m.b]!];
          return [p.x, p.y, q.x, q.y] as const;
        }),
      };
    }
    return best;
  });
}

function plainLens({ width, height }: FrameSize): LensView {
  return { centre: [width / 2, height / 2], halfDiagonalPx: Math.hypot(width, height) / 2, distortion: [0, 0] };
}

export function tiesTask({ reference, moving, rig, fine }: TaskRequest<'ties'>): MeasuredTie[] {
  const refFile = tileFile(reference.tiles);
  const ref = working(reference, levelFor(refFile, WORK_LONG_SIDE));
  const mov = working(moving, ref.level);
  const from = viewOf(rig, 0, refFile);
  const to = viewOf(rig, 1, tileFile(moving.tiles));
  const unit = 2 ** ref.level;
  const pick = ref.levels.filter((l) => fine || Math.max(l.detail.width, l.detail.height) <= COARSE_LONG_SIDE).at(-1)!;
  const same = mov.levels.find((l) => l.factor === pick.factor);
  if (!same) return [];
  return measureTies(pick, same, unit * pick.factor, (x, y) => {
    const world = frameToMerge(from, x, y);
    return world && mergeToFrame(to, world[0], world[1]);
  });
}

/** A frame of a rig on a sphere: any canvas will do to get from one frame to another, as long as it is the same. */
function viewOf(rig: CameraRig, k: number, size: FrameSize): TurnedGeometry {
  return {
    model: 'rotating-camera',
    canvas: { projection: 'spherical', focalPx: rig.focalPx[0]!, axis: [0, 0] },
    rotation: rig.rotations[k]!,
    focalPx: rig.focalPx[k]!,
    ...plainLens(size),
    distortion: rig.distortion,
    vignetting: [0, 0],
  };
}

export function adjustTask({ sizes, start, ties, options }: TaskRequest<'adjust'>): AdjustedRig {
  return adjustBundle(sizes, start, ties, options);
}

export function uprightTask({ pictures, rig }: TaskRequest<'upright'>): TaskResponse<'upright'> {
  const frames = pictures.map((picture, k): UprightFrame => {
    const file = tileFile(picture.tiles);
    const level = levelFor(file, UPRIGHT_LONG_SIDE);
    const lens = { ...plainLens(file), distortion: rig.distortion };
    return {
      luma: tellingPlane(picture, file, level).plane,
      unit: 2 ** level,
      lens,
      focalPx: rig.focalPx[k]!,
      rotation: rig.rotations[k]!,
    };
  });
  return { ...findUpright(frames), lines: frames.map((f) => findLines(f.luma, f.unit, f.lens)) };
}

/** Values between which light is told: clipped at neither end. */
const TELLING = [0.04, 0.92] as const;
const LIGHT_ACROSS = 40;
const LIGHT_DOWN = 28;

/** Light of both frames of each pair where they overlap. */
export function lightTask({ frames, pairs }: TaskRequest<'light'>): LightPair[] {
  const small = frames.map(({ tiles }) => {
    const file = tileFile(tiles);
    return colourPlanes(file, levelFor(file, LIGHT_LONG_SIDE));
  });
  const at = (k: number, x: number, y: number): [number, number, number] => {
    const { planes, unit } = small[k]!;
    return planes.map((p) => sampleBilinear(p, x / unit, y / unit)) as [number, number, number];
  };
  const telling = (v: readonly number[]): boolean => v.every((c) => c > TELLING[0] && c < TELLING[1]);
  const light = ([r, g, b]: readonly [number, number, number]) =>
    [srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)] as const;
  return pairs.flatMap(([i, j]) => {
    const [from, to] = [frames[i]!, frames[j]!];
    const out: LightPair[] = [];
    for (let n = 0; n < LIGHT_ACROSS * LIGHT_DOWN; n++) {
      const x = (((n % LIGHT_ACROSS) + 0.5) / LIGHT_ACROSS) * from.width;
      const y = ((Math.floor(n / LIGHT_ACROSS) + 0.5) / LIGHT_DOWN) * from.height;
      const world = frameToMerge(from.geometry, x, y);
      const there = world && mergeToFrame(to.geometry, world[0], world[1]);
      if (!there || there[0] < 8 || there[1] < 8 || there[0] > to.width - 8 || there[1] > to.height - 8) continue;
      const a = at(i, x, y);
      const b = at(j, there[0], there[1]);
      if (!telling(a) || !telling(b)) continue;
      const radius = (v: TurnedGeometry, px: number, py: number): number =>
        Math.hypot(px - v.centre[0], py - v.centre[1]) / v.halfDiagonalPx;
      out.push({
        i,
        j,
        a: light(a),
        b: light(b),
        radiusA: radius(from.geometry, x, y),
        radiusB: radius(to.geometry, there[0], there[1]),
      });
    }
    return out;
  });
}
