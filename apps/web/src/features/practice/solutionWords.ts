// A solved exercise in words.
import type { Solution, SolvedFault } from '@blendrak/contract';
import { DEFECT_LOOKS } from '../../shared/defects';

const nameOf = (defect: SolvedFault['defect']): string => DEFECT_LOOKS[defect].name.toLowerCase();

/** What came of the exercise as a whole. */
export function solutionWords({ faults, invented, tookS }: Solution): string {
  const found = faults.filter((f) => f.mark !== null).length;
  const named = faults.filter((f) => f.isNamed).length;
  const none = invented.length === 0 ? 'nothing invented' : `${invented.length} invented`;
  const byInspection = faults.filter((f) => f.inspection !== null).length;
  const minutes = tookS < 90 ? `${Math.round(tookS)} s` : `${(tookS / 60).toFixed(1)} min`;
  return `${found} of ${faults.length} found, ${named} named rightly, ${none}, in ${minutes}. The inspection found ${byInspection}.`;
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
