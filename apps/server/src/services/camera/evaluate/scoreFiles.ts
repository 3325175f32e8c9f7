// A repaired merge held against the flawless one, from their files.
import { MENDED, scoreRepair } from '@blendrak/evaluate';
import { readRgb } from './idealPictures';

/** A fault that a repair is asked for. */
export interface AskedFault {
  readonly cells: readonly number[];
  readonly repairable: boolean;
  readonly natural: boolean;
}

export interface FileScore {
  /** By fault: share of its error that is gone, and whether that is enough; null for one that no frame repairs. */
  readonly faults: readonly ({ readonly fall: number; readonly isMended: boolean } | null)[];
  /** Mean ΔE00 by which the rest was changed. */
  readonly damage: number;
}

/** Scores a repair by the files of the merge as it was, as it is now, and as it should be. */
export async function scoreRepairFiles(
  files: { readonly faulty: string; readonly repaired: string; readonly clean: string },
  faults: readonly AskedFault[],
): Promise<FileScore> {
  const [before, after, ideal] = await Promise.all([files.faulty, files.repaired, files.clean].map(readRgb));
  const { falls, damage } = scoreRepair(before!, after!, ideal!, faults);
  return { faults: falls.map((fall) => (fall === null ? null : { fall, isMended: fall >= MENDED })), damage };
}
