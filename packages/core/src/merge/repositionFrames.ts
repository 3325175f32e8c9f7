// Frames of a panorama laid beside each other as they are: shifted and turned, nothing bent.
import { solvePoses, type PoseEdge } from '../align';
import {
  applySimilarity,
  composeSimilarity,
  frameToMerge,
  invertSimilarity,
  mergeToFrame,
  type HomographyGeometry,
  scaleOf,
  type Similarity,
  similarityMatrix,
  touchingSimilarity,
  type TurnedGeometry,
  type FrameSize,
} from '../frame';
import { quantile } from '../image';

export interface Repositioned {
  readonly views: readonly HomographyGeometry[];
  /** How far neighbours miss each other where they overlap, 90 % of places, px. */
  readonly misfitPx: number;
}

/** Places per side of a frame at which its overlap is looked at. */
const GRID = 16;
const LEAST_PLACES = 6;
/** Frames that overlap with nothing are held in their place on the sphere by this much. */
const SPHERE_WEIGHT = 1e-4;

/** A place that two frames show. */
interface Shared {
  readonly from: number;
  readonly to: number;
  readonly places: readonly (readonly [number, number, number, number])[];
}

/**
 * Finds for each frame the shift and turn by which all overlaps fit best (least squares over places, scales kept).
 * @param onSphere the frames as turned cameras on a spherical canvas, which says where they overlap and which way is up
 * Cost: 256 projections per pair of frames.
 */
export function repositionFrames(onSphere: readonly TurnedGeometry[], sizes: readonly FrameSize[]): Repositioned {
  // Frames of a moved zoom keep the size of things, all others their own px.
  const upright = onSphere.map((v, k) => unscaled(v, sizes[k]!));
  const shared = overlapsOf(onSphere, sizes);
  const edges: PoseEdge[] = shared.map(({ from, to, places }) => ({
    from,
    to,
    transform: turnAndShift(places, scaleOf(upright[from]!) / scaleOf(upright[to]!)),
    weight: places.length,
  }));
  for (let to = 1; to < onSphere.length; to++) {
    const transform = composeSimilarity(invertSimilarity(upright[to]!), upright[to - 1]!);
    edges.push({ from: to - 1, to, transform, weight: SPHERE_WEIGHT });
  }
  const solved = solvePoses(onSphere.length, 0, edges);
  // Frames turn against each other as they fit, all together as they stand upright.
  const lean = quantile(
    solved.map((p, k) => turnBetween(upright[k]!, p)),
    0.5,
  );
  const size = scaleOf(upright[0]!);
  const toMerge = solved.map((p): Similarity =>
    composeSimilarity({ re: size * Math.cos(lean), im: -size * Math.sin(lean), tx: 0, ty: 0 }, p),
  );
  const off = shared.flatMap(({ from, to, places }) =>
    places.map(([x, y, u, v]) => {
      const a = applySimilarity(toMerge[from]!, x, y);
      const b = applySimilarity(toMerge[to]!, u, v);
      return Math.hypot(a[0] - b[0], a[1] - b[1]);
    }),
  );
  return {
    views: toMerge.map((s) => ({ model: 'homography', toFrame: similarityMatrix(invertSimilarity(s)) })),
    misfitPx: off.length === 0 ? 0 : quantile(off, 0.9),
  };
}

/** A frame where the sphere touches it in its middle, as large as its focal length says. */
function unscaled(view: TurnedGeometry, { width, height }: FrameSize): Similarity {
  const touching = touchingSimilarity(view, width, height);
  const k = view.canvas.focalPx / view.focalPx / scaleOf(touching);
  const [re, im] = [touching.re * k, touching.im * k];
  const [x, y] = [width / 2, height / 2];
  const [mx, my] = applySimilarity(touching, x, y);
  return { re, im, tx: mx - (re * x - im * y), ty: my - (im * x + re * y) };
}

/** How far the second turns more than the first, rad. */
function turnBetween(a: Similarity, b: Similarity): number {
  return Math.atan2(a.re * b.im - a.im * b.re, a.re * b.re + a.im * b.im);
}

function overlapsOf(views: readonly TurnedGeometry[], sizes: readonly FrameSize[]): Shared[] {
  const out: Shared[] = [];
  for (let from = 0; from < views.length; from++) {
    const { width, height } = sizes[from]!;
    const spots = Array.from({ length: GRID * GRID }, (_, n) => {
      const [x, y] = [(((n % GRID) + 0.5) / GRID) * width, ((Math.floor(n / GRID) + 0.5) / GRID) * height];
      return { x, y, at: frameToMerge(views[from]!, x, y) };
    });
    for (let to = from + 1; to < views.length; to++) {
      const places = spots.flatMap(({ x, y, at }): [number, number, number, number][] => {
        const there = at && mergeToFrame(views[to]!, at[0], at[1]);
        const size = sizes[to]!;
        return there && there[0] > 0 && there[1] > 0 && there[0] < size.width && there[1] < size.height
          ? [[x, y, there[0], there[1]]]
          : [];
      });
      if (places.length >= LEAST_PLACES) out.push({ from, to, places });
    }
  }
  return out;
}

/** The turn and shift (x, y) → (u, v) at a given scale, least squares in closed form. */
function turnAndShift(places: Shared['places'], scale: number): Similarity {
  const n = places.length;
  const [mx, my, mu, mv] = [0, 1, 2, 3].map((c) => places.reduce((s, p) => s + p[c]!, 0) / n) as [
    number,
    number,
    number,
    number,
  ];
  let [re, im] = [0, 0];
  for (const [x, y, u, v] of places) {
    re += (x - mx) * (u - mu) + (y - my) * (v - mv);
    im += (x - mx) * (v - mv) - (y - my) * (u - mu);
  }
  const length = Math.hypot(re, im);
  const turn = length > 0 ? { re: (scale * re) / length, im: (scale * im) / length } : { re: scale, im: 0 };
  return { ...turn, tx: mu - (turn.re * mx - turn.im * my), ty: mv - (turn.im * mx + turn.re * my) };
}
