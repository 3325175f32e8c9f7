// Places where a merge is none of its frames in whatever tone.
import { median, type Component } from '../image';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from './detection';
import type { Evidence } from './detector';
import { growRegions } from './grow';
import { agreement } from './layers/agreement';
import type { MergeKind } from './layers/layer';

/** A third of a px off leaves about this; in brackets edges beside clipped places, and bent tone curves, leave more. */
const LEAST_MISFIT: Readonly<Record<MergeKind, number>> = { 'focus-stack': 6, panorama: 6, bracket: 8 };
/** Five times what three of four cells keep below is far out in the tail of any texture. */
const OVER_USUAL = 5;
const MIN_CELLS = 40;
/** The frames disagree where they differ by so many times what noise and resampling make of them … */
export const DISAGREE = 6;
/** … over this share of a place. */
const DISAGREE_SHARE = 0.35;
/** … and by this share of what the merge departs from them: little motion is no cause of much. */
const AS_FAR = 0.5;

export interface Stranger {
  readonly component: Component;
  /** Whether the frames agree there among each other: then the merge is wrong; otherwise something moved. */
  readonly framesAgree: boolean;
  /** As a detection without a name. */
  readonly detection: Omit<Detection, 'defect'>;
}

/** Finds the places. */
export function findStrangers(evidence: Evidence): Stranger[] {
  const { width, height } = evidence;
  const { misfit, departure, apartOverNoise, telling } = evidence.of(agreement);
  const threshold = Math.max(LEAST_MISFIT[evidence.facts.kind], OVER_USUAL * evidence.yardstick(agreement).usual);
  const weak = new Uint8Array(misfit.length);
  const strong = new Uint8Array(misfit.length);
  for (let i = 0; i < weak.length; i++) {
    if (departure[i]! < JUST_VISIBLE) continue;
    weak[i] = misfit[i]! > 0.5 * threshold ? 1 : 0;
    strong[i] = misfit[i]! > threshold ? 1 : 0;
  }
  const regions = growRegions({ width, height, data: weak }, strong, {
    minCells: MIN_CELLS,
    minCore: MIN_CELLS / 2,
    closeCells: 2,
  });
  return regions.flatMap((component): Stranger[] => {
    const own = component.cells.filter((i) => weak[i]);
    const typical = median(own.map((i) => misfit[i]!));
    const seen = median(own.map((i) => departure[i]!));
    // What is plainly broken within a displaced part is what the eye sees of it, however little shows in the rest. Of what moved, the rest is as
    // wrong as its edges.
    const broken = Math.sqrt(own.reduce((sum, i) => sum + departure[i]! ** 2, 0) / own.length);
    const confidence = Math.min(confidenceOf(typical, threshold), confidenceOf(seen, 1.5 * JUST_VISIBLE));
    if (confidence < 0.5) return [];
    const several = own.filter((i) => telling[i]! > 1);
    const between = several.length > 0 ? median(several.map((i) => evidence.of(agreement).apart[i]!)) : 0;
    const apart = several.filter((i) => apartOverNoise[i]! > DISAGREE).length;
    const framesAgree =
      several.length < own.length / 2 || apart < DISAGREE_SHARE * several.length || between < AS_FAR * seen;
    return [
      {
        component,
        framesAgree,
        detection: {
          cells: component.cells,
          ...placeComponent(component, width),
          confidence,
          measurements: {
            misfit: { value: typical, unit: '× usual' },
            departure: { value: 100 * seen, unit: '% of full scale' },
            framesApart: { value: 100 * between, unit: '% of full scale' },
          },
          rms: framesAgree ? broken : seen,
        },
      },
    ];
  });
}
