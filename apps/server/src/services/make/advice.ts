// What to do about a defect, in plain words.
import type { DefectWord } from '@blendrak/contract';

const ADVICE: Partial<Record<DefectWord, string>> = {
  'soft-patch': 'Pick the donor in the trace strip and paint over the patch; a soft brush hides the border.',
  halo: 'Pick the donor and paint along the edge with a narrow brush; look at the edge again afterwards.',
  misalignment: 'Paint the donor over the whole part, edge and all, so that no double contour stays.',
  'focus-gap':
    'No mask can mend this. Reshoot the missing slice if the set-up still stands, crop, or accept it with a reason.',
};

export function adviceFor(defect: DefectWord, repairable: boolean): string {
  return ADVICE[defect] ?? (repairable ? 'Paint the donor in.' : 'Accept it with a reason, or reshoot.');
}
