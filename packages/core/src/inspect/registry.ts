// All detectors. A new one is a file in `defects/` and a line here.
import { badParameter } from '../checks';
import { border } from './defects/border';
import { clipping } from './defects/clipping';
import { dust } from './defects/dust';
import { fringe } from './defects/fringe';
import { focusGap } from './defects/focusGap';
import { ghost } from './defects/ghost';
import { halo } from './defects/halo';
import { maskSpeckle } from './defects/maskSpeckle';
import { misalignment } from './defects/misalignment';
import { seam } from './defects/seam';
import { softPatch } from './defects/softPatch';
import type { Defect } from './detection';
import type { Detector } from './detector';

/** In the order in which findings of equal visibility are named. */
export const DETECTORS: readonly Detector[] = [
  misalignment,
  ghost,
  halo,
  softPatch,
  maskSpeckle,
  focusGap,
  clipping,
  seam,
  fringe,
  border,
  dust,
];

/**
 * The detector that finds a defect.
 * @throws ParameterError for a defect that none finds yet
 */
export function detectorOf(defect: Defect): Detector {
  const found = DETECTORS.find((d) => d.defect === defect);
  if (!found) throw badParameter('detectorOf.defect', DETECTORS.map((d) => d.defect).join(', '), defect);
  return found;
}
