// The longest stack a job takes, through the server: read, aligned, merged, inspected.
import { join } from 'node:path';
import { mergedJob, type Client } from './client';
import { drawStack } from './sets';
import type { Row } from './table';

export async function attackByLongStack(client: Client, root: string, frames: number): Promise<Row[]> {
  const folder = await drawStack(join(root, 'long'), { frames, width: 510, height: 340 });
  const start = performance.now();
  const { mergeId } = await mergedJob(client, 'Long', folder);
  const merge = await client.get<{ frames: unknown[] }>(`/api/merges/${mergeId}`);
  const seconds = (performance.now() - start) / 1000;
  return [
    {
      what: `a stack of ${frames} frames`,
      result: `merged and inspected in ${seconds.toFixed(0)} s`,
      good: merge.frames.length === frames,
    },
  ];
}
