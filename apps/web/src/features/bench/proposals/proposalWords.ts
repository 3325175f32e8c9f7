// A proposed repair in words.
import type { Proposal } from '@blendrak/contract';
import { isEvening, operationRegion, partsOf } from '@blendrak/core/repair';
import { DEFECT_LOOKS } from '../../../shared/defects';
import type { BenchMerge } from '../../../shared/queries';
import { donorName } from '../donors';

/** More frames than these are counted. */
const MOST_NAMED = 2;

/** What would be done, in a few words; null where nothing would. */
export function repairWords(merge: Pick<BenchMerge, 'frames' | 'sources'>, { operation }: Proposal): string | null {
  if (!operation) return null;
  const { width, height } = operationRegion(operation);
  const size = `${Math.round(width)} × ${Math.round(height)} px`;
  if (isEvening(operation)) return `tone evened over ${size}`;
  const names = partsOf(operation).map(({ donor }) => (donor === null ? 'the merge itself' : donorName(merge, donor)));
  const sources = [...new Set(names)];
  return `${sources.length > MOST_NAMED ? `merged of ${sources.length} frames` : sources.join(', ')} over ${size}`;
}

/** What it comes to, in a word or two. */
export function stateWords({ closes, operation, rest }: Proposal): string {
  if (closes) return 'closes';
  if (operation) return `${Math.round(100 * rest)} % stays`;
  return rest === 0 ? 'gone' : 'no help';
}

/** What a list says of one that has nothing to be done: it is gone with another, or stays. */
export function withoutRepair({ rest }: Proposal): string {
  return rest === 0 ? 'with another repair' : 'no repair';
}

/** What was seen when it was tried. */
export function outcomeWords({ operation, closes, rest, plants }: Proposal): string {
  if (!operation) {
    if (rest === 0) return 'Nothing is left to repair here once the repairs before it are kept.';
    return plants
      ? `No repair is proposed: those that were tried would plant a ${DEFECT_LOOKS[plants].name.toLowerCase()}.`
      : 'No repair is proposed: none that was tried leaves less of it.';
  }
  if (closes) return 'Tried and looked at again: nothing of it is left, and nothing new is there.';
  return `Tried and looked at again: ${Math.round(100 * rest)} % of it would stay. Paint over the rest.`;
}
