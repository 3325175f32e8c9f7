// All detectors over one set of evidence maps, with overlaps settled.
import type { FocusAxis } from '../provenance';
import type { Calibration } from './calibrate';
import { detectFocusGaps } from './detectFocusGaps';
import { detectHalos } from './detectHalos';
import { detectMisalignments } from './detectMisalignments';
import { detectSoftPatches } from './detectSoftPatches';
import type { Detection } from './detection';
import type { EvidenceMaps } from './evidence';
import { splitLarge } from './splitLarge';

/** A finding is for looking at: a defect whose box covers more of the picture than this comes in parts. */
const LARGEST_SHARE = 0.2;
const NEAR_CELLS = 3;

/**
 * Detections of all kinds, each place claimed once.
 * What lies where no frame has it gives no sound measure of anything else. A halo softens the edge it sits on, and a soft patch may smear a near edge: where both claim a place, the larger claim
 * that covers most of the other takes it.
 * @param pictureCells cells of the whole picture, when the maps are a part of it; default all of the maps
 */
export function findDefects(
  maps: EvidenceMaps,
  calibration: Calibration,
  axis: FocusAxis,
  pictureCells = maps.width * maps.height,
): Detection[] {
  const misplaced = detectMisalignments(maps);
  const elsewhere = (d: Detection): boolean => !misplaced.some((m) => overlap(d, m, maps.width) > 0.3);
  const soft = detectSoftPatches(maps, calibration).filter(elsewhere);
  const halos = detectHalos(maps, calibration).filter(elsewhere);
  const gaps = detectFocusGaps(maps, calibration, axis);
  const keptHalos = halos.filter(
    (h) => !soft.some((s) => s.cells.length > 2 * h.cells.length && overlap(h, s, maps.width) > 0.5),
  );
  const keptSoft = soft.filter((s) => !keptHalos.some((h) => overlap(s, h, maps.width) > 0.4));
  const claimed = [...misplaced, ...keptHalos, ...keptSoft];
  const keptGaps = gaps.filter((g) => !claimed.some((c) => overlap(g, c, maps.width) > 0.5));
  return [...claimed, ...keptGaps].flatMap((d) => splitLarge(d, pictureCells * LARGEST_SHARE, maps.width, maps.height));
}

/** Share of a's cells within a few cells of b. */
function overlap(a: Detection, b: Detection, width: number): number {
  const cells = new Set<number>();
  for (const i of b.cells) {
    for (let dy = -NEAR_CELLS; dy <= NEAR_CELLS; dy++) {
      for (let dx = -NEAR_CELLS; dx <= NEAR_CELLS; dx++) cells.add(i + dy * width + dx);
    }
  }
  return a.cells.filter((i) => cells.has(i)).length / a.cells.length;
}
