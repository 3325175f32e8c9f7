// focus-gap: sharp nowhere, because the slice was never shot.
import { boxSmooth, median, tentSmooth } from '../../image';
import type { FocusAxis } from '../../defocus';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { focus, type FocusMaps } from '../layers/focus';
import { sharpness } from '../layers/sharpness';

/** Blur (σ) that is plain at 100 %: it takes more than half the detail energy off a pixel-sharp edge. */
export const VISIBLE_BLUR_PX = 0.55;
const GROW_BLUR_PX = 0.5;
// Beyond the ends of the series u0 is extrapolated, so more is asked.
const VISIBLE_BLUR_BEYOND_END_PX = 1.2;
const MIN_CELLS = 40;
const STRIP_CELLS = 3;
const MASSIVE_SHARE = 0.7;

/** Per cell: blur that no frame resolves, and between which frames the true focus lies. */
export interface UnresolvedBlur {
  /** σ in px; NaN where nothing can be said. */
  readonly blurPx: Float32Array;
  /** Index of the frame before the focus; -1 before the first, count − 1 after the last. */
  readonly interval: Int16Array;
}

/**
 * Where on the focus axis each place would be sharp, and how far the nearest frame is from it.
 * σ² = C + A·(u − u0)² averaged over neighbouring cells: C, the texture's own
 * softness, drops out, so soft texture is not mistaken for missed focus.
 */
export function unresolvedBlur(
  maps: FocusMaps,
  width: number,
  height: number,
  axis: FocusAxis,
  curvature: number,
): UnresolvedBlur {
  const smooth = (data: Float32Array): Float32Array => tentSmooth({ width, height, data }, 1).data;
  const middle = smooth(maps.middle);
  const slope = smooth(maps.slope);
  const weight = smooth(maps.weight);
  const bend = smooth(maps.curvature);
  const bendWeight = smooth(maps.curvature.map((v) => (v > 0 ? 1 : 0)));
  const blurPx = new Float32Array(width * height).fill(NaN);
  const interval = new Int16Array(width * height).fill(-1);
  const unit = Math.sqrt(curvature);
  const count = axis.positions.length;
  for (let i = 0; i < blurPx.length; i++) {
    if (!maps.weight[i] || !(weight[i]! > 0.05)) continue;
    // The texture's own curvature where both flanks are known, the whole picture's elsewhere.
    const local = bendWeight[i]! > 0.2 ? bend[i]! / bendWeight[i]! : curvature;
    const u0 = (middle[i]! - slope[i]! / local) / weight[i]!;
    let [nearest, before] = [Infinity, -1];
    for (let k = 0; k < count; k++) {
      const d = Math.abs(axis.positions[k]! - u0);
      if (d < nearest) nearest = d;
      if (axis.positions[k]! <= u0) before = k;
    }
    blurPx[i] = nearest * unit;
    interval[i] = before;
  }
  return { blurPx, interval };
}

/**
 * Takes the core away from thin strips: along depth edges each cell mixes two depths, which can look like a depth between.
 * A real band between two slices is as wide as the things in it.
 */
function keepMassive(weak: Uint8Array, strong: Uint8Array, width: number, height: number): void {
  const share = boxSmooth({ width, height, data: Float32Array.from(weak) }, STRIP_CELLS).data;
  for (let i = 0; i < strong.length; i++) if (share[i]! < MASSIVE_SHARE) strong[i] = 0;
}

/** Finds bands between two frames (or beyond the series) that no frame shows sharp. */
function findFocusGaps(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { axis } = evidence.facts;
  const { curvature, typicalVariance } = evidence.yardstick(focus);
  if (!axis || curvature === null || !(curvature > 0)) return [];
  const maps = evidence.of(focus);
  const { softness } = evidence.of(sharpness);
  const { centre } = evidence.yardstick(sharpness);
  const { blurPx, interval } = unresolvedBlur(maps, width, height, axis, curvature);
  const unit = Math.sqrt(curvature);
  const count = axis.positions.length;
  const detections: Detection[] = [];
  for (let gap = -1; gap < count; gap++) {
    const inside = gap >= 0 && gap < count - 1;
    const halfStep = inside ? ((axis.positions[gap + 1]! - axis.positions[gap]!) / 2) * unit : Infinity;
    const limit = inside ? VISIBLE_BLUR_PX : VISIBLE_BLUR_BEYOND_END_PX;
    if (halfStep < limit) continue;
    const weak = new Uint8Array(blurPx.length);
    const strong = new Uint8Array(blurPx.length);
    for (let i = 0; i < weak.length; i++) {
      if (interval[i] !== gap || softness[i]! - centre > 0.5) continue;
      // Two things at two depths in one cell peak twice and look like a gap between, but each is sharp in its frame.
      if (maps.variance[i]! <= typicalVariance) continue;
      weak[i] = blurPx[i]! > (inside ? GROW_BLUR_PX : limit * 0.75) ? 1 : 0;
      strong[i] = blurPx[i]! > limit ? 1 : 0;
    }
    if (!strong.includes(1)) continue;
    keepMassive(weak, strong, width, height);
    const regions = growRegions({ width, height, data: weak }, strong, {
      minCells: MIN_CELLS,
      minCore: MIN_CELLS / 3,
      closeCells: 3,
    });
    for (const region of regions) {
      const blur = median(region.cells.filter((i) => weak[i]).map((i) => blurPx[i]!));
      const confidence = confidenceOf(blur, (GROW_BLUR_PX + limit) / 2);
      if (confidence < 0.5) continue;
      detections.push({
        defect: 'focus-gap',
        cells: region.cells,
        ...placeComponent(region, width),
        confidence,
        measurements: {
          unresolvedBlur: { value: blur, unit: 'px' },
          frameBefore: { value: gap, unit: 'index' },
          stepBlur: { value: inside ? halfStep * 2 : NaN, unit: 'px' },
        },
      });
    }
  }
  return detections;
}

export const focusGap: Detector = {
  defect: 'focus-gap',
  kinds: ['focus-stack'],
  layers: [sharpness, focus],
  find: findFocusGaps,
  donorBy: null,
  leastChange: JUST_VISIBLE,
  cause({ measurements, frames }) {
    const before = measurements['frameBefore']?.value ?? 0;
    if (before < 0) return 'The series starts behind this place: no frame is focused on it. Shoot one nearer or crop.';
    if (before >= frames.length - 1)
      return 'The series ends before this place: no frame is focused on it. Shoot one more or crop.';
    return `No frame is focused here: the slice between ${frames[before]} and ${frames[before + 1]} was never shot. Reshoot, crop or accept.`;
  },
  advice:
    'No mask can mend this. Reshoot the missing slice if the set-up still stands, crop, or accept it with a reason.',
};
