// What the pool's workers can do: one table, task → [request, response], in parts by domain.
import type { AlignTasks } from './align';
import type { FileTasks } from './files';
import type { InspectTasks } from './inspect';
import type { InstrumentTasks } from './instruments';
import type { MergeTasks } from './merge';
import type { SortTasks } from './sort';
import type { TileTasks } from './tiles';

export type Tasks = FileTasks & SortTasks & AlignTasks & MergeTasks & InspectTasks & InstrumentTasks & TileTasks;

export type TaskName = keyof Tasks;
export type TaskRequest<N extends TaskName> = Tasks[N][0];
export type TaskResponse<N extends TaskName> = Tasks[N][1];

/** Message to a worker. */
export interface TaskMessage<N extends TaskName = TaskName> {
  readonly name: N;
  readonly request: TaskRequest<N>;
}

/** Runs a task somewhere; rejects when the signal aborts before or while it runs. */
export type RunTask = <N extends TaskName>(
  name: N,
  request: TaskRequest<N>,
  signal?: AbortSignal,
) => Promise<TaskResponse<N>>;

export * from './pictures';
export type { PictureCut, StoredInfo } from './files';
export type { LookedAt } from './sort';
export type { FittedPlanes, MatchedMerge, PairResult, RelatedFrames } from './align';
export type { ExposedPicture } from './merge';
export type { ProbeResult } from './inspect';
export type { CameraSet, TileSource } from './tiles';
