// Step: a merge made elsewhere, of any kind, found on the frames of its set, and the frames toned to match it.
import {
  composeMatrix,
  composeSimilarity,
  frameRay,
  frameToMerge,
  inAnotherMerge,
  inPerspective,
  invertMatrix,
  SAME_PLACE,
  shiftedGeometry,
  touchingSimilarity,
  withVignetting,
  type FrameGeometry,
  type Similarity,
} from '@blendrak/core/frame';
import {
  fitSmoothShift,
  shiftAt,
  transposed,
  turn,
  unit,
  type CanvasTie,
  type FittedShift,
  type KeyPoint,
  type ShiftTie,
} from '@blendrak/core/align';
import { IDENTITY_TONE, median, quantile } from '@blendrak/core/image';
import { InputError } from '../codecs';
import type { MatchedMerge } from '../jobs';
import type { AlignedBracket } from './alignBracket';
import type { AlignedSet } from './alignFrames';
import type { AlignedPanorama, FailedFrame } from './alignPanorama';
import { findStraightening, planeChange } from './planeChange';
import { spread, WITNESSES } from './spread';
import { toned } from './toneFrames';
import { inParallel, type PlacedFrame, type SetPicture, type StepContext } from './types';

/** Frames in a merge made elsewhere. */
export interface RegisteredMerge {
  readonly frames: readonly PlacedFrame[];
  /** Frames that do not fit the merge, or that it does not show. */
  readonly remarks: readonly FailedFrame[];
}

const BELONGS = 0.3;
/** A merge turned by more than this is not the picture the frames show. */
const TURNED_RAD = Math.PI / 6;

/** Frames that lie on each other in a plane. */
export type AlignedPlane =
  | { readonly kind: 'focus-stack'; readonly set: AlignedSet }
  | { readonly kind: 'bracket'; readonly set: AlignedBracket };

/**
 * Places the frames of a stack or bracket in a merge: scaled, cropped, in mild perspective, warped slowly.
 * @throws InputError when the merge shows something else, or the same turned or mirrored
 */
export async function registerPlane(
  merge: SetPicture,
  { kind, set }: AlignedPlane,
  context: StepContext,
): Promise<RegisteredMerge> {
  const { frames } = set;
  const witnesses = spread(frames.length, WITNESSES);
  const mergeToReference = await findOnFrames(merge, frames, middleOut(witnesses), context);
  context.onProgress(0.3, 'merge found on the frames');
  let placed = frames.map((f) => ({ ...f, geometry: inAnotherMerge(f.geometry, mergeToReference) }));
  const straightening = await findStraightening(merge, placed, context);
  if (straightening) placed = placed.map((f) => ({ ...f, geometry: inPerspective(f.geometry, straightening) }));
  const chosen = witnesses.length;
  let done = 0;
  let last: FittedShift | null = null;
  for (const fine of [false, true, true]) {
    const measured = await inParallel(witnesses, context.parallel, async (k) => {
      const ties = await context.run('mergeTies', { merge, frame: placed[k]!, fine }, context.signal);
      context.onProgress(0.3 + (0.4 * ++done) / (3 * chosen), `merge compared with ${done} of ${3 * chosen} views`);
      return ties;
    });
    const ties = measured.flat();
    if (ties.length < LEAST_TIES) continue;
    // One map for all frames: they lie on each other already.
    const change = planeChange(ties, merge, fine);
    placed = placed.map((f) => ({ ...f, geometry: change(f.geometry) }));
    last = fitSmoothShift(rest(ties, change), { x: 0, y: 0, width: merge.width, height: merge.height });
  }
  if (last && last.shift.degree > 1) placed = placed.map((f) => ({ ...f, geometry: corrected(f, last!, merge) }));
  const ownPx = last ? last.residualPx : NaN;
  const residual = Number.isFinite(ownPx) ? ownPx : 0;
  const remarks = last
    ? []
    : [
        {
          name: merge.name,
          why: 'it holds too little detail to be laid on the frames more precisely than by its outline',
        },
      ];
  return {
    frames: await toned(
      placed.map((f) => ({ ...f, residualPx: Math.hypot(f.residualPx || 0, residual) })),
      merge,
      kind,
      context,
    ),
    remarks,
  };
}

/** Size and crop are searched with one frame after the other; merge px → reference px. */
async function findOnFrames(
  merge: SetPicture,
  frames: readonly PlacedFrame[],
  order: readonly number[],
  context: StepContext,
): Promise<Similarity> {
  let best = -1;
  for (const k of order) {
    const found = await context.run('place', { frame: frames[k]!, merge }, context.signal);
    best = Math.max(best, found.correlation);
    if (found.correlation >= BELONGS) return composeSimilarity(roughly(frames[k]!), found.toMoving);
  }
  const middle = frames[order[0]!]!;
  const why = await oddTurn(merge, [middle], false, context);
  throw new InputError(
    merge.name,
    why ?? `this merge does not belong to the frames (best agreement ${(100 * Math.max(0, best)).toFixed(0)} %)`,
    'a merge made from these frames, upright as they are: scaled, cropped or mildly toned',
  );
}

/** Frames that a merge is held against when it is asked why it does not fit. */
const MOST_ASKED = 3;

/**
 * Whether the merge is mirrored against the frames, or turned, in words; null when it is neither.
 * @param upright whether it was compared upright before, and lies nowhere
 */
async function oddTurn(
  merge: SetPicture,
  frames: readonly SetPicture[],
  upright: boolean,
  { run, signal, parallel }: StepContext,
): Promise<string | null> {
  const asked = spread(frames.length, MOST_ASKED).map((k) => frames[k]!);
  const own = await inParallel(asked, parallel, (picture) => run('points', { picture }, signal));
  for (const mirrored of upright ? [true] : [false, true]) {
    const points = await run('points', { picture: merge, many: true, mirrored }, signal);
    for (const [k, size] of asked.entries()) {
      const found = await run('matchMerge', { merge: points, frame: own[k]!, size }, signal);
      if (!found) continue;
      if (mirrored) return 'it is mirrored against the frames';
      if (Math.abs(found.turnRad) > TURNED_RAD) return turnedWords(found.turnRad);
    }
  }
  return null;
}

function turnedWords(turnRad: number): string {
  return `it is turned by ${Math.round((Math.abs(turnRad) * 180) / Math.PI)}° against the frames`;
}

/** Ties against the merge's places after a change: what is left of them. */
function rest(ties: readonly ShiftTie[], change: (geometry: FrameGeometry) => FrameGeometry): ShiftTie[] {
  const changed = change(SAME_PLACE);
  return ties.flatMap((t) => {
    const at = frameToMerge(changed, t.u, t.v);
    return at ? [{ ...t, u: at[0], v: at[1] }] : [];
  });
}

const LEAST_TIES = 12;

/** How many corners of a merge must be shown by its frames. */
const LEAST_PLACES = 16;
/** Frames are laid on a merge in so many passes, and in more while their rim is still off: what lies far off is measured poorly. */
const [LEAST_PASSES, MOST_PASSES] = [3, 5];
const FAR_OFF_PX = 0.3;
/** A canvas that leaves more than this share of a frame's length explains nothing. */
const CANVAS_LEAVES = 0.006;

/**
 * Places the frames of a panorama in a merge on an unknown canvas: flat, on a cylinder or a sphere, cropped, of any size, warped slowly.
 * @throws InputError when the merge shows something else, or the same turned or mirrored
 */
export async function registerPanorama(
  merge: SetPicture,
  set: AlignedPanorama,
  context: StepContext,
): Promise<RegisteredMerge> {
  const { run, signal, onProgress, parallel } = context;
  const { pictures } = set;
  const points = await run('points', { picture: merge, many: true }, signal);
  let done = 0;
  const matches = await inParallel(pictures, parallel, async (picture) => {
    const own = await run('points', { picture }, signal);
    const found = await run('matchMerge', { merge: points, frame: own, size: picture }, signal);
    onProgress((0.3 * ++done) / pictures.length, `merge compared with ${done} of ${pictures.length} frames`);
    return found;
  });
  await checkBelongs(merge, pictures, points, matches, context);
  const start = await startingPlaces(merge, set, matches, context);
  const remarks: FailedFrame[] = [];
  const frames = await inParallel(pictures, parallel, async (picture, k): Promise<PlacedFrame | null> => {
    const geometry = start[k];
    if (!geometry) {
      remarks.push({ name: picture.name, why: 'the merge shows nothing of it, or it does not fit: it is left out' });
      return null;
    }
    let frame: PlacedFrame = { ...picture, geometry, tone: IDENTITY_TONE, residualPx: NaN, correlation: 1 };
    let fitted: FittedShift | null = null;
    for (let pass = 0; pass < LEAST_PASSES || (pass < MOST_PASSES && fitted && fitted.rimPx > FAR_OFF_PX); pass++) {
      const fine = pass > 0;
      const ties = await run('mergeTies', { merge, frame, fine }, signal);
      fitted = fitSmoothShift(ties, regionOf(ties), fine ? 4 : 1);
      if (fitted) frame = { ...frame, geometry: corrected(frame, fitted, merge) };
    }
    onProgress(
      0.35 + (0.4 * ++done) / (2 * pictures.length),
      `placed ${done - pictures.length} of ${pictures.length} frames`,
    );
    return { ...frame, residualPx: fitted ? fitted.residualPx : NaN };
  });
  const placed = frames.filter((f) => f !== null);
  for (const f of placed)
    if (!Number.isFinite(f.residualPx))
      remarks.push({
        name: f.name,
        why: 'it holds too little detail to be laid on the merge precisely: its place is a guess',
      });
  // Stitching frees frames of what their lens did to their light, more often than not.
  const vignetting = await run('mergeShade', { frames: placed, merge }, signal);
  const shaded = vignetting
    ? placed.map((f) => ({ ...f, geometry: withVignetting(f.geometry, f, vignetting) }))
    : placed;
  return { frames: await toned(shaded, merge, 'panorama', context), remarks };
}

async function checkBelongs(
  merge: SetPicture,
  pictures: readonly SetPicture[],
  points: readonly KeyPoint[],
  matches: readonly (MatchedMerge | null)[],
  context: StepContext,
): Promise<void> {
  const found = matches.filter((m) => m !== null);
  const places = found.reduce((n, m) => n + m.places.length, 0);
  const turned = found.length > 0 ? median(found.map((m) => m.turnRad)) : 0;
  const refused = (why: string): InputError =>
    new InputError(merge.name, why, 'a panorama made from these frames, upright as they are');
  if (places >= LEAST_PLACES && Math.abs(turned) > TURNED_RAD) throw refused(turnedWords(turned));
  if (places >= LEAST_PLACES) return;
  if (points.length < LEAST_PLACES) throw refused('it holds too little detail to be found on the frames');
  throw refused(
    (await oddTurn(merge, pictures, true, context)) ??
      'this merge does not belong to the frames: too few corners agree',
  );
}

/** Where each frame lies by the plainest canvas that explains all of them, else by a perspective of its own; null for nowhere. */
async function startingPlaces(
  merge: SetPicture,
  set: AlignedPanorama,
  matches: readonly (MatchedMerge | null)[],
  { run, signal }: StepContext,
): Promise<(FrameGeometry | null)[]> {
  const { rig, pictures, down } = set;
  const lensOf = ({ width, height }: SetPicture) => ({
    centre: [width / 2, height / 2] as const,
    halfDiagonalPx: Math.hypot(width, height) / 2,
    distortion: rig.distortion,
  });
  const ties = matches.flatMap((m, k): CanvasTie[] =>
    (m?.places ?? []).map(([x, y, u, v]) => {
      const [px, py] = frameRay(lensOf(pictures[k]!), u, v);
      return { x, y, ray: turn(transposed(rig.rotations[k]!), unit([px, py, rig.focalPx[k]!])) };
    }),
  );
  const scales = matches.flatMap((m, k) => (m ? [m.scale * rig.focalPx[k]!] : []));
  const unitPx = Math.max(1, Math.max(merge.width, merge.height) / 4200);
  const fitted = await run('canvas', { ties, down, focalPx: median(scales), unitPx }, signal);
  const frameLong = quantile(
    matches.flatMap((m, k) => (m ? [m.scale * Math.max(pictures[k]!.width, pictures[k]!.height)] : [])),
    0.5,
  );
  if (fitted && fitted.residualPx <= CANVAS_LEAVES * frameLong) {
    return pictures.map((picture, k): FrameGeometry | null => {
      const geometry: FrameGeometry = {
        model: 'rotating-camera',
        canvas: fitted.canvas,
        rotation: composeMatrix(rig.rotations[k]!, transposed(fitted.axes)),
        focalPx: rig.focalPx[k]!,
        ...lensOf(picture),
        vignetting: [0, 0],
      };
      return isIn(geometry, picture, merge) ? geometry : null;
    });
  }
  return matches.map((m): FrameGeometry | null => m && { model: 'homography', toFrame: invertMatrix(m.matrix) });
}

const GRID = 8;

/** Whether a frame shows up in the merge. */
function isIn(geometry: FrameGeometry, { width, height }: SetPicture, merge: SetPicture): boolean {
  for (let n = 0; n < GRID * GRID; n++) {
    const at = frameToMerge(
      geometry,
      (((n % GRID) + 0.5) / GRID) * width,
      ((Math.floor(n / GRID) + 0.5) / GRID) * height,
    );
    if (at && at[0] > 0 && at[1] > 0 && at[0] < merge.width && at[1] < merge.height) return true;
  }
  return false;
}

/** A frame's geometry with a smooth shift of the merge, which does not reach beyond the merge. */
function corrected(frame: PlacedFrame, { shift }: FittedShift, { width, height }: SetPicture): FrameGeometry {
  return shiftedGeometry(frame.geometry, frame, (x, y) =>
    shiftAt(shift, Math.min(width, Math.max(0, x)), Math.min(height, Math.max(0, y))),
  );
}

function regionOf(ties: readonly ShiftTie[]) {
  const [xs, ys] = [ties.map((t) => t.x), ties.map((t) => t.y)];
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  return { x: left, y: top, width: Math.max(1, Math.max(...xs) - left), height: Math.max(1, Math.max(...ys) - top) };
}

/** The same entries, the middle one first: there, most of the picture is least out of focus, and exposed best. */
function middleOut(list: readonly number[]): number[] {
  const middle = (list.length - 1) / 2;
  return [...list.entries()].sort((a, b) => Math.abs(a[0] - middle) - Math.abs(b[0] - middle)).map(([, k]) => k);
}

/** Where a frame lies, as far as a search needs it. */
function roughly({ geometry, width, height }: PlacedFrame): Similarity {
  return touchingSimilarity(geometry, width, height);
}
