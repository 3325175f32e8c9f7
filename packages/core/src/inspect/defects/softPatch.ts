// soft-patch: the merge shows a softer frame than the set has to offer.
import { median } from '../../image';
import { confidenceOf, JUST_VISIBLE, placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { growRegions } from '../grow';
import { NONE_OF_THEM } from '../../provenance';
import { explanation } from '../layers/explanation';
import { MERGE_KINDS } from '../layers/layer';
import { relativeSharpness } from '../layers/relativeSharpness';
import { sharpness } from '../layers/sharpness';
import { unexplained } from '../layers/unexplained';

// Half the detail energy gone is the least loss an eye sees at 100 %; more is asked where the set itself scatters more.
const VISIBLE_LOSS = 1;
const SCATTER = 6;
const MIN_CELLS = 24;
// A merge that shows some frame, however soft, differs from it by less than the set's own detail.
const EXPLAINED = 1;

/**
 * Finds places where the sharpest frame has clearly more detail than the merge.
 * A place no frame explains (something else is wrong there) is left to other detectors.
 */
function findSoftPatches(evidence: Evidence): Detection[] {
  if (evidence.facts.kind !== 'focus-stack') return findSofterPlaces(evidence);
  const { width, height } = evidence;
  const { significant, softness, detailLost } = evidence.of(sharpness);
  const { centre, spread } = evidence.yardstick(sharpness);
  const { share } = evidence.of(unexplained);
  const threshold = Math.max(VISIBLE_LOSS, SCATTER * spread);
  const n = softness.length;
  const weak = new Uint8Array(n);
  const strong = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    if (!significant[i]) continue;
    const loss = softness[i]! - centre;
    weak[i] = loss > threshold * 0.6 ? 1 : 0;
    strong[i] = loss > threshold ? 1 : 0;
  }
  const regions = growRegions({ width, height, data: weak }, strong, {
    minCells: MIN_CELLS,
    minCore: MIN_CELLS / 2,
    closeCells: 2,
  });
  return regions.flatMap((region): Detection[] => {
    const own = region.cells.filter((i) => weak[i]);
    const explained = own.filter((i) => share[i]! < EXPLAINED).length / own.length;
    const loss = median(own.map((i) => softness[i]! - centre));
    const lostRms = Math.sqrt(own.reduce((sum, i) => sum + detailLost[i]!, 0) / own.length);
    // Clear against the set's own scatter, and strong enough to be seen.
    const clear = Math.min(confidenceOf(loss, threshold * 0.8), confidenceOf(lostRms, JUST_VISIBLE));
    const confidence = clear * Math.min(1, explained / 0.4);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'soft-patch',
        cells: region.cells,
        ...placeComponent(region, width),
        confidence,
        measurements: {
          detailLoss: { value: loss, unit: 'log2' },
          explainedShare: { value: explained, unit: '1' },
        },
      },
    ];
  });
}

/** Blur takes about twice as many octaves off the fine detail as off its share of the detail around it. */
const OF_SHARE = 2;

/** Softness by cell, and what of it is usual. Where tones are matched, detail itself must be lost, too. */
function softnessOf(evidence: Evidence) {
  const byShare = evidence.of(relativeSharpness);
  const { centre, usual } = evidence.yardstick(relativeSharpness);
  const { detailLost } = byShare;
  if (evidence.facts.kind === 'bracket') return { softness: byShare.softness, centre, usual, detailLost };
  const absolute = evidence.of(sharpness);
  const middle = evidence.yardstick(sharpness).centre;
  const softness = absolute.softness.map((v, i) =>
    absolute.significant[i] ? Math.min(v - middle, OF_SHARE * (byShare.softness[i]! - centre)) : 0,
  );
  return { softness, centre: 0, usual: usual - centre, detailLost: absolute.detailLost };
}

/** A shaken frame is soft over more than this, cells; what is smaller is a thing that was not there in the other frame. */
const LEAST_SHAKEN = 80;
/** What three of four cells keep below, so many times, is far out in the tail of any texture. */
const OVER_USUAL = 4;

/** The same where frames differ in tone: by how detail falls off. A place that no frame explains is left to others. */
function findSofterPlaces(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { softness, centre, usual, detailLost } = softnessOf(evidence);
  const { label } = evidence.of(explanation);
  const threshold = Math.max(VISIBLE_LOSS, OVER_USUAL * (usual - centre));
  const weak = Uint8Array.from(softness, (v) => (v - centre > 0.6 * threshold ? 1 : 0));
  const strong = Uint8Array.from(softness, (v) => (v - centre > threshold ? 1 : 0));
  const regions = growRegions({ width, height, data: weak }, strong, {
    minCells: LEAST_SHAKEN,
    minCore: LEAST_SHAKEN / 2,
    closeCells: 2,
  });
  return regions.flatMap((region): Detection[] => {
    const own = region.cells.filter((i) => weak[i]);
    const loss = median(own.map((i) => softness[i]! - centre));
    const rms = Math.sqrt(own.reduce((sum, i) => sum + detailLost[i]!, 0) / own.length);
    const explained = own.filter((i) => label[i] !== NONE_OF_THEM).length / own.length;
    const confidence =
      Math.min(confidenceOf(loss, threshold), confidenceOf(rms, JUST_VISIBLE)) * Math.min(1, explained / 0.4);
    if (confidence < 0.5) return [];
    return [
      {
        defect: 'soft-patch',
        cells: region.cells,
        ...placeComponent(region, width),
        confidence,
        measurements: {
          detailLoss: { value: loss, unit: 'log2' },
          explainedShare: { value: explained, unit: '1' },
        },
        rms,
      },
    ];
  });
}

export const softPatch: Detector = {
  defect: 'soft-patch',
  kinds: MERGE_KINDS,
  layers: [sharpness, unexplained, relativeSharpness, explanation],
  find: findSoftPatches,
  donorBy: 'detail',
  cause: ({ shown, donor }) => `The mask took ${shown}, which is out of focus here; ${donor} shows this place sharp.`,
  advice: 'Pick the donor in the trace strip and paint over the patch; a soft brush hides the border.',
};
