// Worker thread of the simulated camera: one table of tasks.
import { blend, compose, depth, develop, expose, ideal, moment, seed, settle, survey } from './cameraTasks';

const TASKS = { expose, depth, develop, ideal, blend, survey, seed, compose, moment, settle };

export type CameraTasks = typeof TASKS;

/** A task by name with its request. */
export type CameraCall = {
  [K in keyof CameraTasks]: { name: K; request: Parameters<CameraTasks[K]>[0] };
}[keyof CameraTasks];

export default async function run({ name, request }: CameraCall): Promise<unknown> {
  const task = TASKS[name] as (request: unknown) => unknown;
  return task(request);
}
