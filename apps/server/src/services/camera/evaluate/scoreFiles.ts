// A repaired merge held against the flawless one, from their files.
import { scoreRepair, type RepairScore } from '@blendrak/evaluate';
import { readRgb } from './idealPictures';

export { MENDED } from '@blendrak/evaluate';

/** A fault that a repair is asked for. */
export interface FileFault {
  readonly cells: readonly number[];
  readonly repairable: boolean;
  readonly natural: boolean;
  /** What may stand there as well. */
  readonly moments: readonly FileMoment[];
}

/** A picture of part of the merge at another moment. */
export interface FileMoment {
  readonly file: string;
  /** Where it lies in the merge. */
  readonly region: { readonly x: number; readonly y: number };
  readonly cells: readonly number[];
}

/** Scores a repair by the files of the merge as it was, as it is now, and as it should be. */
export async function scoreRepairFiles(
  files: { readonly faulty: string; readonly repaired: string; readonly clean: string },
  faults: readonly FileFault[],
): Promise<RepairScore> {
  const [before, after, ideal] = await Promise.all([files.faulty, files.repaired, files.clean].map(readRgb));
  const asked = faults.map(async ({ moments, ...fault }) => ({
    ...fault,
    moments: await Promise.all(
      moments.map(async ({ file, region: { x, y }, cells }) => ({ picture: await readRgb(file), x, y, cells })),
    ),
  }));
  return scoreRepair(before!, after!, ideal!, await Promise.all(asked));
}
