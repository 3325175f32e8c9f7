// What the log says in sentences: shares with what they can be, never bare.
import type { Log, LogCell, LogGroup } from '@blendrak/contract';
import { DEFECT_LOOKS } from '../../shared/defects';

const percent = (share: number): string => `${Math.round(100 * share)}`;

/** A share with its interval: "4 of 6 jobs, 30 to 90 % of such jobs". */
export function shareWords({ jobs, share }: LogCell, of: number): string {
  return `${jobs} of ${of} ${of === 1 ? 'job' : 'jobs'}; of all such jobs ${percent(share.low)} to ${percent(share.high)} %`;
}

/** An interval wider than this tells nothing yet. */
const TELLS = 0.6;

/** Whether so few jobs say anything about others. */
export function tells({ share }: LogCell): boolean {
  return share.high - share.low <= TELLS;
}

/** The answers that stand above the matrix. */
export function answers({ groups, inspected, jobs }: Log): string[] {
  if (inspected === 0)
    return [jobs === 0 ? 'There are no jobs yet.' : 'No job has been inspected yet: the log fills by itself.'];
  const said = groups.flatMap((group) => answerOf(group));
  const few =
    inspected < 5
      ? [`With ${inspected} ${inspected === 1 ? 'job' : 'jobs'} it cannot tell what is usual: look at the intervals.`]
      : [];
  return [...said.slice(0, 3), ...few];
}

function answerOf({ name, jobs, cells }: LogGroup): string[] {
  const [worst] = cells;
  if (!worst) return [];
  const mended = worst.findings > 0 ? ` ${worst.repaired} of ${worst.findings} were repaired` : '';
  const reshot = worst.reshot > 0 ? `, ${worst.reshot} need a reshoot` : '';
  return [
    `${name.charAt(0).toUpperCase()}${name.slice(1)}: most often ${DEFECT_LOOKS[worst.defect].name.toLowerCase()}, in ${shareWords(worst, jobs)}.${mended}${reshot}.`,
  ];
}
