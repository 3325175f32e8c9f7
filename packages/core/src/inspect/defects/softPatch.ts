// soft-patch: the merge shows a softer frame than the set has to offer.
import { median } from '../../image';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { NONE_OF_THEM } from '../../provenance';
import { explanation } from '../layers/explanation';
import { MERGE_KINDS } from '../layers/layer';
import { hasMoment } from '../layers/moments';
import { movement } from '../layers/movement';
import { relativeSharpness } from '../layers/relativeSharpness';
import { sharpness } from '../layers/sharpness';
import { unexplained } from '../layers/unexplained';

// Half the detail energy gone is the least loss an eye sees at 100 %; more is asked where the set itself scatters more.
const VISIBLE_LOSS = 1;
const SCATTER = 6;
const MIN_CELLS = 24;
// A merge that shows some frame, however soft, differs from it by less than the set's own detail.
const EXPLAINED = 1;

/** How much softer a merge is than its frames allow, by cell, and what counts as soft. */
interface Softness {
  /** log2 of detail lost beyond what is usual; 0 where nothing tells. */
  readonly loss: Float32Array;
  /** Energy of the detail lost. */
  readonly detailLost: Float32Array;
  /** Loss from which a place is soft, and the one at which half of the doubt is gone. */
  readonly threshold: number;
  readonly half: number;
  readonly minCells: number;
  isExplained(cell: number): boolean;
}

/**
 * Finds places where a frame has clearly more detail than the merge.
 * A place no frame explains (something else is wrong there) is left to other detectors.
 */
function findSoftPatches(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const isStack = evidence.facts.kind === 'focus-stack';
  const { loss, detailLost, threshold, half, minCells, isExplained } = isStack
    ? stackSoftness(evidence)
    : tonedSoftness(evidence);
  const weak = Uint8Array.from(loss, (v) => (v > threshold * 0.6 ? 1 : 0));
  const strong = Uint8Array.from(loss, (v) => (v > threshold ? 1 : 0));
  const regions = growRegions({ width, height, data: weak }, strong, {
    minCells,
    minCore: minCells / 2,
    closeCells: 2,
  });
  return regions.flatMap((region): Detection[] => {
    const own = region.cells.filter((i) => weak[i]);
    const explained = own.filter(isExplained).length / own.length;
    const typical = median(own.map((i) => loss[i]!));
    const rms = Math.sqrt(own.reduce((sum, i) => sum + detailLost[i]!, 0) / own.length);
    // Clear against the set's own scatter, and strong enough to be seen.
    const clear = Math.min(confidenceOf(typical, half), confidenceOf(rms, JUST_VISIBLE));
    const confidence = clear * Math.min(1, explained / 0.4);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'soft-patch',
        cells: region.cells,
        ...placeComponent(region, width),
        confidence,
        measurements: {
          detailLoss: { value: typical, unit: 'log2' },
          explainedShare: { value: explained, unit: '1' },
        },
        // In one tone the donor's difference tells more; in others it is mostly tone.
        ...(!isStack && { rms }),
      },
    ];
  });
}

/** Against the sharpest frame of a stack. */
function stackSoftness(evidence: Evidence): Softness {
  const { significant, softness, detailLost, best } = evidence.of(sharpness);
  const { centre, spread } = evidence.yardstick(sharpness);
  const { share } = evidence.of(unexplained);
  const { odd } = evidence.of(movement);
  const threshold = Math.max(VISIBLE_LOSS, SCATTER * spread);
  return {
    // The detail of something that was there for one frame alone is no loss.
    loss: softness.map((v, i) => (significant[i] && !hasMoment(odd[i]!, best[i]!) ? v - centre : 0)),
    detailLost,
    threshold,
    half: 0.8 * threshold,
    minCells: MIN_CELLS,
    isExplained: (i) => share[i]! < EXPLAINED,
  };
}

/** Blur takes about twice as many octaves off the fine detail as off its share of the detail around it. */
const OF_SHARE = 2;
/** A shaken frame is soft over more than this, cells; what is smaller is a thing that was not there in the other frame. */
const LEAST_SHAKEN = 80;
/** What three of four cells keep below, so many times, is far out in the tail of any texture. */
const OVER_USUAL = 4;

/** Where frames differ in tone: by how detail falls off; where tones are matched, detail itself must be lost, too. */
function tonedSoftness(evidence: Evidence): Softness {
  const byShare = evidence.of(relativeSharpness);
  const { centre, usual } = evidence.yardstick(relativeSharpness);
  const { label } = evidence.of(explanation);
  const threshold = Math.max(VISIBLE_LOSS, OVER_USUAL * (usual - centre));
  const common = {
    threshold,
    half: threshold,
    minCells: LEAST_SHAKEN,
    isExplained: (i: number) => label[i] !== NONE_OF_THEM,
  };
  const fallOff = byShare.softness.map((v) => v - centre);
  if (evidence.facts.kind === 'bracket') return { ...common, loss: fallOff, detailLost: byShare.detailLost };
  const { softness, significant, detailLost } = evidence.of(sharpness);
  const middle = evidence.yardstick(sharpness).centre;
  const loss = softness.map((v, i) => (significant[i] ? Math.min(v - middle, OF_SHARE * fallOff[i]!) : 0));
  return { ...common, loss, detailLost };
}

export const softPatch: Detector = {
  defect: 'soft-patch',
  kinds: MERGE_KINDS,
  layers: [sharpness, unexplained, relativeSharpness, explanation, movement],
  find: findSoftPatches,
  donorBy: 'detail',
  cause: ({ shown, donor }) => `The mask took ${shown}, which is out of focus here; ${donor} shows this place sharp.`,
  advice: 'Pick the donor in the trace strip and paint over the patch; a soft brush hides the border.',
};
