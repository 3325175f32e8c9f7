// What an operation is called while nobody has given it a name.
import type { Operation } from '@blendrak/contract';
import { isEvening, isInvented, partsOf, pullLength } from '@blendrak/core/repair';

/** An operation in a few words, to begin a sentence with. */
export function operationWords(operation: Operation, frames: readonly string[]): string {
  const { name, donor, shift, pull } = operation;
  if (name !== '') return `“${name}”`;
  if (isInvented(operation)) return 'A fill from around (invented)';
  if (isEvening(operation)) return 'An evening of the tone';
  if (pull) return `A pull by up to ${pullLength(pull).toFixed(1)} px`;
  if (operation.also) {
    const used = [
      ...new Set(partsOf(operation).map((p) => (p.donor === null ? 'the merge itself' : frames[p.donor]!))),
    ];
    return `A repair in parts from ${used.join(', ')}`;
  }
  if (donor === null) return 'A stroke of the merge itself';
  return `A stroke with ${frames[donor]}${shift ? `, nudged by ${Math.hypot(...shift).toFixed(1)} px` : ''}`;
}
