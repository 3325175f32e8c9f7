// Step: what kind of set the frames are, when nobody said so.
import type { MergeKind } from '@blendrak/contract';
import { inParallel, type StepContext } from './types';

/**
 * Looks at the files as sorting does and takes the kind of the set that holds most of them.
 * @param paths files of one set
 * @returns a focus stack where nothing can be told
 */
export async function findKind(
  paths: readonly { readonly path: string; readonly name: string }[],
  context: StepContext,
): Promise<MergeKind> {
  const frames = await inParallel(paths, context.parallel, ({ path, name }) =>
    context.run('look', { path, name }, context.signal),
  );
  const { sorting } = await context.run('group', { frames }, context.signal);
  const largest = sorting.sets.reduce<(typeof sorting.sets)[number] | null>(
    (best, set) => (!best || set.frames.length > best.frames.length ? set : best),
    null,
  );
  return largest?.kind ?? 'focus-stack';
}
