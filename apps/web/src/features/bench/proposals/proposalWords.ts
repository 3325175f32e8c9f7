// A proposed repair in words.
import type { Proposal } from '@blendrak/contract';
import { shapeRegion } from '@blendrak/core/repair';
import { DEFECT_LOOKS } from '../../../shared/defects';
import type { BenchMerge } from '../../../shared/queries';

/** What would be done, in a few words; null where nothing would. */
export function repairWords({ frames }: Pick<BenchMerge, 'frames'>, { operation }: Proposal): string | null {
  if (!operation) return null;
  const { width, height } = shapeRegion(operation.shape);
  const source = operation.donor === null ? 'the merge itself' : frames[operation.donor]!.fileName;
  return `${source} over ${Math.round(width)} × ${Math.round(height)} px`;
}

/** What was seen when it was tried. */
export function outcomeWords({ operation, closes, rest, plants }: Proposal): string {
  if (!operation) {
    return plants
      ? `No repair is proposed: those that were tried would plant a ${DEFECT_LOOKS[plants].name.toLowerCase()}.`
      : 'No repair is proposed: none that was tried leaves less of it.';
  }
  if (closes) return 'Tried and looked at again: nothing of it is left, and nothing new is there.';
  return `Tried and looked at again: ${Math.round(100 * rest)} % of it would stay. Paint over the rest.`;
}
