// A solved exercise in words.
import type { ScoredRepair, Solution, SolvedFault } from '@blendrak/contract';
import { DEFECT_LOOKS } from '../../shared/defects';

const nameOf = (defect: SolvedFault['defect']): string => DEFECT_LOOKS[defect].name.toLowerCase();

/** What came of the exercise as a whole. */
export function solutionWords({ faults, invented, tookS, pairs }: Solution): string {
  if (pairs.length > 0) {
    const right = pairs.filter((p) => p.isRight).length;
    return `${right} of ${pairs.length} told rightly, in ${timeWords(tookS)}; guessing gets half of them.`;
  }
  const found = faults.filter((f) => f.mark !== null).length;
  const named = faults.filter((f) => f.isNamed).length;
  const none = invented.length === 0 ? 'nothing invented' : `${invented.length} invented`;
  const byInspection = faults.filter((f) => f.inspection !== null).length;
  return `${found} of ${faults.length} found, ${named} named rightly, ${none}, in ${timeWords(tookS)}. The inspection found ${byInspection}.`;
}

function timeWords(tookS: number): string {
  return tookS < 90 ? `${Math.round(tookS)} s` : `${(tookS / 60).toFixed(1)} min`;
}

/** What one's own repair did. */
export function repairWords({ faults, damage }: ScoredRepair): string {
  const mended = faults.filter((f) => f.isMended).length;
  const rest =
    damage <= 0.05 ? 'the rest is as it was' : `the rest was changed by ${damage.toFixed(2)} ΔE00 on average`;
  return `${mended} of ${faults.length} mended (their error fell by 70 % or more); ${rest}.`;
}

/** What came of one hidden defect. */
export function faultWords(
  { defect, mark, isNamed, isDonorRight, donors, inspection }: SolvedFault,
  { marks }: Pick<Solution, 'marks'>,
): string {
  const found = mark === null ? 'missed' : isNamed ? 'found' : `found, called ${nameOf(marks[mark]!.defect)}`;
  const donor =
    isDonorRight === null
      ? ''
      : isDonorRight
        ? '; the donor was right'
        : `; to be repaired from ${donors.slice(0, 3).join(', ')}`;
  const theirs =
    inspection === null
      ? '; the inspection missed it'
      : inspection === defect
        ? ''
        : `; the inspection calls it ${nameOf(inspection)}`;
  return `${found}${donor}${theirs}`;
}
