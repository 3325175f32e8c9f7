// Files to sets: looks at each, groups them, checks each set.
import { basename, join } from 'node:path';
import type { SetsReport } from '@blendrak/contract';
import type { FrameCheck, Sorting } from '@blendrak/core/sort';
import { inParallel, type StepContext } from '../../pipeline';

/** A file that could not be looked at; it spoils nothing else. */
export interface Unreadable {
  readonly file: string;
  readonly problem: string;
}

export interface SortedPictures {
  readonly report: SetsReport;
  readonly unreadable: readonly Unreadable[];
}

interface Seen {
  readonly name: string;
  /** Path of what was seen in it. */
  readonly summary: string;
}

/**
 * Sorts pictures.
 * @param paths in order by name; names must differ
 * @param workspace receives what was seen, and the pictures of files that hold several: they are sorted in place of these
 * @throws when cancelled; a file that cannot be read is listed, not thrown
 */
export async function sortPictures(
  paths: readonly string[],
  workspace: string,
  context: StepContext,
): Promise<SortedPictures> {
  const unreadable: Unreadable[] = [];
  const asProblem = (name: string, error: unknown): Unreadable => {
    if (context.signal?.aborted) throw error;
    return { file: name, problem: error instanceof Error ? error.message : String(error) };
  };
  const pictures: string[] = [];
  for (const path of paths) {
    try {
      const task = { path, name: basename(path), folder: workspace };
      const parts = await context.run('expand', task, context.signal);
      // The flat picture of a layered file is a merge, not a frame.
      pictures.push(...(parts ? parts.filter((p) => p.role === 'frame').map((p) => p.path) : [path]));
    } catch (error) {
      unreadable.push(asProblem(basename(path), error));
    }
  }
  let done = 0;
  const looked = await inParallel(pictures, context.parallel, async (path, k): Promise<Seen | Unreadable> => {
    const name = basename(path);
    const summary = join(workspace, `${k}.summary`);
    const result = await context
      .run('summarise', { path, name, out: summary }, context.signal)
      .then(() => ({ name, summary }))
      .catch((error: unknown) => asProblem(name, error));
    context.onProgress((0.95 * ++done) / pictures.length, `looked at ${done} of ${pictures.length} files`);
    return result;
  });
  unreadable.push(...looked.filter((r) => 'problem' in r));
  const seen = looked.filter((r) => 'summary' in r);
  const { sorting, checks } = await context.run('group', { summaries: seen.map((s) => s.summary) }, context.signal);
  context.onProgress(1, `${sorting.sets.length} sets found`);
  return {
    report: reportSets(
      seen.map((s) => s.name),
      sorting,
      checks,
      unreadable,
    ),
    unreadable,
  };
}

function reportSets(
  names: readonly string[],
  sorting: Sorting,
  checks: readonly (readonly FrameCheck[])[],
  unreadable: readonly Unreadable[],
): SetsReport {
  const named = (indices: readonly number[]): string[] => indices.map((k) => names[k]!);
  const idOf = (k: number): string => `s-${String(k + 1).padStart(3, '0')}`;
  return {
    format: 'blendrak-sets',
    version: 1,
    sets: sorting.sets.map((set, k) => ({
      id: idOf(k),
      kind: set.kind,
      frames: named(set.frames),
      why: set.why,
      confidence: Number(set.confidence.toFixed(2)),
      checks: checks[k]!.map(({ frame, ...check }) => ({ file: names[frame]!, ...check })),
      nested: set.nested.map(idOf),
    })),
    separators: named(sorting.separators),
    unassigned: [...named(sorting.unassigned), ...unreadable.map((u) => u.file)],
  };
}
