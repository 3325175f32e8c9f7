// Step: what kind of set the frames are, when nobody said so.
import { join } from 'node:path';
import type { MergeKind } from '@blendrak/contract';
import { inParallel, type StepContext } from './types';

/**
 * Looks at the files as sorting does and takes the kind of the set that holds most of them.
 * @param paths files of one set
 * @param workspace receives what was seen in them
 * @returns a focus stack where nothing can be told
 */
export async function findKind(
  paths: readonly { readonly path: string; readonly name: string }[],
  workspace: string,
  context: StepContext,
): Promise<MergeKind> {
  const summaries = await inParallel(paths, context.parallel, async ({ path, name }, k) => {
    const out = join(workspace, `${k}.summary`);
    await context.run('summarise', { path, name, out }, context.signal);
    return out;
  });
  const { sorting } = await context.run('group', { summaries }, context.signal);
  const largest = sorting.sets.reduce<(typeof sorting.sets)[number] | null>(
    (best, set) => (!best || set.frames.length > best.frames.length ? set : best),
    null,
  );
  return largest?.kind ?? 'focus-stack';
}
