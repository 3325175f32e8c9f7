// What an operation is called while nobody has given it a name.
import type { Operation } from '@blendrak/contract';

/** An operation in a few words, to begin a sentence with. */
export function operationWords(
  { name, donor, shift }: Pick<Operation, 'name' | 'donor' | 'shift'>,
  frames: readonly string[],
): string {
  if (name !== '') return `“${name}”`;
  if (shift) return 'A fill from around (invented)';
  return donor === null ? 'A stroke of the merge itself' : `A stroke with ${frames[donor]}`;
}
