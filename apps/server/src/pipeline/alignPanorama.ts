// Step: the frames of a panorama as one camera turning on the spot: corners, pairs, then all cameras at once on precise ties.
import {
  transposed,
  type AdjustedRig,
  type AdjustOptions,
  type CameraRig,
  type FrameLine,
  type MeasuredTie,
  type PlaneTie,
  type Tie,
  type TiedPair,
  type Vector3,
} from '@blendrak/core/align';
import { composeMatrix, type LocalField, type Matrix3, type FrameSize } from '@blendrak/core/frame';
import { median, quantile } from '@blendrak/core/image';
import { turnedViews } from '@blendrak/core/merge';
import { InputError } from '../codecs';
import { bestFocal, guessesOf, namedFocal, sensorFocal } from './focalLengths';
import {
  allPairs,
  busiest,
  chainRotations,
  cornerTies,
  largestGroup,
  relatePairs,
  type Edge,
  type PointedFrame,
} from './relatePairs';
import { inParallel, type AlignmentOptions, type SetPicture, type StepContext } from './types';

/** A frame that cannot take part, and why. */
export interface FailedFrame {
  readonly name: string;
  readonly why: string;
}

/** A precise tie's distance from where the cameras say it should be: parallax, drift or motion. */
export interface ResidualPlace {
  readonly x: number;
  readonly y: number;
  readonly offPx: number;
}

export interface AlignedPanorama {
  /** The frames that take part, in order; all lists below run along them. */
  readonly pictures: readonly SetPicture[];
  readonly rig: CameraRig;
  readonly down: Vector3;
  /** Share of steep edges that stand upright; 0 where only the camera's attitude decided. */
  readonly uprightSupport: number;
  /** Median distance of each frame's ties, px. */
  readonly residualPx: readonly number[];
  readonly residuals: readonly (readonly ResidualPlace[])[];
  /** Straight lines of each frame, px. */
  readonly lines: readonly (readonly FrameLine[])[];
  /** Local shifts of each frame; null for frames that have none. */
  readonly locals: readonly (LocalField | null)[];
  /** Pairs that overlap, indices into pictures. */
  readonly pairs: readonly (readonly [number, number])[];
  readonly failed: readonly FailedFrame[];
  /** What is odd without spoiling the merge. */
  readonly remarks: readonly FailedFrame[];
}

/**
 * Lenses differ from their names by a per cent or two, and ties that agree among each other tell so by hundreds. Sigma is set far
 * smaller, because the ties' errors hang together (clouds, parallax): a pair of frames would rather stretch the lens.
 */
const NAMED_FOCAL_SIGMA = 0.006;
const ZOOM_REMARK = 0.015;
/** How far a zoom may have been moved between frames. */
const ZOOM_SIGMA = 0.05;
const TURNED_REMARK = Math.PI / 4;
const MOST_FRAMES = 255;

/**
 * Aligns a panorama.
 * @param bendPx frames may be shifted locally so far that straight lines bend by so many px; 0: not at all
 * @throws InputError when fewer than two frames belong together
 */
export async function alignPanorama(
  pictures: readonly SetPicture[],
  { bendPx }: Pick<AlignmentOptions, 'bendPx'>,
  context: StepContext,
): Promise<AlignedPanorama> {
  const { run, signal, onProgress } = context;
  if (pictures.length < 2)
    throw new InputError(
      pictures[0]?.name ?? 'the set',
      `a panorama needs at least 2 frames, this one has ${pictures.length}`,
      `2 to ${MOST_FRAMES} frames`,
    );
  if (pictures.length > MOST_FRAMES)
    throw new InputError('the set', `it has ${pictures.length} frames`, `2 to ${MOST_FRAMES} frames`);
  let done = 0;
  const points = await inParallel(pictures, context.parallel, async (picture) => {
    const found = await run('points', { picture }, signal);
    onProgress((0.2 * ++done) / pictures.length, `corners of ${done} of ${pictures.length} frames`);
    return found;
  });
  const frames = pictures.map((p, k) => ({ points: points[k]!, size: { width: p.width, height: p.height } }));
  const named = namedFocal(pictures);
  const guesses = named ? [named] : guessesOf(frames[0]!.size);
  let related = await relatePairs(frames, allPairs(frames.length), { focalPx: guesses, guided: false }, context);
  const focal = named ?? bestFocal(related, frames[0]!.size);
  let kept = largestGroup(pictures.length, related);
  if (kept.length >= 2 && kept.length < pictures.length) {
    const loose = allPairs(frames.length).filter(([i, j]) => !kept.includes(i) || !kept.includes(j));
    related = [...related, ...(await relatePairs(frames, loose, { focalPx: [focal], guided: true }, context))];
    kept = largestGroup(pictures.length, related);
  }
  if (kept.length < 2) throw nothingShared(pictures);
  const failed = await explainFailures(pictures, frames, kept, focal, context);
  const renumber = new Map(kept.map((k, n) => [k, n]));
  const edges = related.flatMap((r): Edge[] => {
    const [i, j] = [renumber.get(r.i), renumber.get(r.j)];
    return i === undefined || j === undefined ? [] : [{ ...r, i, j }];
  });
  const used = kept.map((k) => pictures[k]!);
  const sizes = used.map(({ width, height }): FrameSize => ({ width, height }));
  const reference = busiest(used.length, edges);
  const start: CameraRig = {
    rotations: chainRotations(used.length, reference, edges),
    focalPx: used.map(() => focal),
    distortion: [0, 0],
  };
  // In a pair a moved zoom cannot be told from a lens that the ties stretch.
  const tellsZoom = used.length >= 3;
  let priors: AdjustOptions = { focalSigma: named ? NAMED_FOCAL_SIGMA : 0.6, distortionSigma: 0.03, reference };
  const work = Math.max(...sizes.map((s) => Math.max(s.width, s.height))) / 1300;
  let rig = await run(
    'adjust',
    {
      sizes,
      start,
      ties: cornerTies(edges, work),
      options: {
        ...priors,
        ...(tellsZoom && { frameFocalSigma: ZOOM_SIGMA }),
        distortionSigma: 0,
        leastCutPx: 4 * work,
      },
    },
    signal,
  );
  // Two frames tell too little of the focal length to tell sensors apart by it.
  const middle = quantile(rig.focalPx, 0.5);
  const zoomed = tellsZoom && rig.focalPx.some((f) => Math.abs(f / middle - 1) > ZOOM_REMARK);
  if (zoomed) priors = { ...priors, frameFocalSigma: ZOOM_SIGMA };
  const usual = zoomed || named || used.length < 3 ? null : sensorFocal(used, middle);
  if (usual !== null) {
    priors = { ...priors, focalSigma: NAMED_FOCAL_SIGMA };
    rig = { ...rig, focalPx: used.map(() => usual) };
  }
  onProgress(0.5, 'cameras placed roughly');
  let ties: Tie[] = [];
  const pairs = edges.map(({ i, j }) => [i, j] as const);
  for (const fine of [false, true]) {
    done = 0;
    const measured = await inParallel(pairs, context.parallel, async ([i, j]) => {
      const pair: CameraRig = {
        rotations: [rig.rotations[i]!, rig.rotations[j]!],
        focalPx: [rig.focalPx[i]!, rig.focalPx[j]!],
        distortion: rig.distortion,
      };
      const found = await run('ties', { reference: used[i]!, moving: used[j]!, rig: pair, fine }, signal);
      onProgress((fine ? 0.7 : 0.5) + (0.2 * ++done) / pairs.length, `ties of ${done} of ${pairs.length} pairs`);
      return found.map((t: MeasuredTie): Tie => ({ ...t, i, j }));
    });
    ties = measured.flat();
    if (ties.length < 8) throw nothingShared(used);
    // Registration works on some 1700 px: what it errs grows with the frames.
    const leastCutPx = (fine ? 0.3 : 1) * Math.max(1, work);
    rig = await run('adjust', { sizes, start: rig, ties, options: { ...priors, leastCutPx } }, signal);
  }
  const upright = await run('upright', { pictures: used, rig }, signal);
  const locals = bendPx > 0 ? await localFields(rig, sizes, ties, upright.down, bendPx, context) : used.map(() => null);
  onProgress(1, 'frames aligned');
  const residuals = residualsOf(used.length, ties, rig);
  return {
    pictures: used,
    rig: { rotations: rig.rotations, focalPx: rig.focalPx, distortion: rig.distortion },
    down: upright.down,
    uprightSupport: upright.support,
    lines: upright.lines,
    locals,
    residualPx: residuals.map((r) => (r.length === 0 ? NaN : median(r.map((p) => p.offPx)))),
    residuals,
    pairs,
    failed,
    remarks: remarksOf(used, rig),
  };
}

/** What the cameras leave of the ties, as local shifts of the frames. */
function localFields(
  rig: CameraRig,
  sizes: readonly FrameSize[],
  ties: readonly Tie[],
  down: Vector3,
  bendPx: number,
  { run, signal }: StepContext,
): Promise<readonly (LocalField | null)[]> {
  const views = turnedViews({ rig, sizes, down }, { projection: 'spherical', focalPx: rig.focalPx[0]!, axis: [0, 0] });
  const pairs = new Map<string, TiedPair & { ties: PlaneTie[] }>();
  for (const { i, j, x, y, u, v, hxx, hyy } of ties) {
    const key = `${i} ${j}`;
    if (!pairs.has(key)) pairs.set(key, { from: i, to: j, ties: [] });
    pairs.get(key)!.ties.push({ x, y, u, v, weight: (hxx + hyy) / 2 });
  }
  return run('localFields', { views, sizes, pairs: [...pairs.values()], bendPx }, signal);
}

function nothingShared(pictures: readonly SetPicture[]): InputError {
  return new InputError(
    pictures.map((p) => p.name).join(', '),
    'no two of these frames show enough of the same to be put together',
    'frames of one panorama that overlap by a quarter or more, with detail where they do',
  );
}

async function explainFailures(
  pictures: readonly SetPicture[],
  frames: readonly PointedFrame[],
  kept: readonly number[],
  focal: number,
  context: StepContext,
): Promise<FailedFrame[]> {
  const out: FailedFrame[] = [];
  for (const [k, picture] of pictures.entries()) {
    if (kept.includes(k)) continue;
    const points = await context.run('points', { picture, mirrored: true }, context.signal);
    const others = kept.map((other) => frames[other]!);
    const mirrored = await context.run(
      'relate',
      {
        frames: [{ points, size: frames[k]!.size }, ...others],
        pairs: others.map((_, n) => [0, n + 1] as const),
        focalPx: [focal],
        guided: false,
      },
      context.signal,
    );
    const why = mirrored.some((r) => r !== null)
      ? 'it is mirrored: turn it round and add it again'
      : frames[k]!.points.length < 20
        ? 'it holds too little detail to be placed'
        : 'it shows nothing that another frame shows: another scene, or no overlap';
    out.push({ name: picture.name, why });
  }
  return out;
}

/** Ties beyond this many times a pair's usual distance belong to things that moved: they are shown, but not averaged. */
function residualsOf(count: number, ties: readonly Tie[], rig: AdjustedRig): ResidualPlace[][] {
  const out = Array.from({ length: count }, (): ResidualPlace[] => []);
  ties.forEach((t, n) => {
    const offPx = rig.residualPx[n]!;
    if (!Number.isFinite(offPx)) return;
    out[t.i]!.push({ x: t.x, y: t.y, offPx });
    out[t.j]!.push({ x: t.u, y: t.v, offPx });
  });
  return out;
}

function remarksOf(pictures: readonly SetPicture[], rig: AdjustedRig): FailedFrame[] {
  const usual = quantile(rig.focalPx, 0.5);
  return pictures.flatMap((p, k): FailedFrame[] => {
    const zoom = rig.focalPx[k]! / usual - 1;
    const out: FailedFrame[] = [];
    if (Math.abs(zoom) > ZOOM_REMARK)
      out.push({
        name: p.name,
        why: `its focal length is ${(100 * Math.abs(zoom)).toFixed(1)} % ${zoom > 0 ? 'longer' : 'shorter'} than that of the others: the zoom was moved`,
      });
    if (rollOf(rig.rotations[k]!, rig.rotations) > TURNED_REMARK)
      out.push({ name: p.name, why: 'it is turned on its side against the others' });
    return out;
  });
}

/** How far a frame is rolled about its own axis against the median of the others, rad. */
function rollOf(rotation: Matrix3, all: readonly Matrix3[]): number {
  const rolls = all.map((other) => {
    const m = composeMatrix(rotation, transposed(other));
    return Math.abs(Math.atan2(m[3] - m[1], m[0] + m[4]));
  });
  return median(rolls);
}
