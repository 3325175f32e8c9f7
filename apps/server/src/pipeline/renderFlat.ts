// The whole picture, repairs and all, into a flat file: bands of rows in parallel, with progress, ended between two bands.
import type { InspectionScene, PictureCut } from '../jobs';
import { inParallel, type StepContext } from './types';

/** Strips of the file that one task renders: short enough to end soon after a cancel. */
const STRIPS_PER_BAND = 4;

export interface FlatOrder {
  readonly scene: InspectionScene;
  /** Of the picture that is written: the merge's, or its cut's. */
  readonly width: number;
  readonly height: number;
  /** Part of the merge that is written; all of it when left out. */
  readonly cut?: PictureCut;
  /** Path of the colour profile that goes with it. */
  readonly icc: string | null;
  readonly out: string;
}

/**
 * Renders the repaired picture as a TIFF of 16 bits.
 * @returns nothing; `out` is there and whole then
 * @throws NoRoomError when the disk cannot hold it; the caller removes `out` after any failure or cancel
 */
export async function renderFlat(order: FlatOrder, context: StepContext): Promise<void> {
  const { scene, width, height, cut, icc, out } = order;
  const { run, signal, parallel, onProgress } = context;
  const layout = await run('beginTiff', { width, height, icc, out }, signal);
  const bandRows = layout.rowsPerStrip * STRIPS_PER_BAND;
  const bands = Array.from({ length: Math.ceil(height / bandRows) }, (_, k) => k * bandRows);
  let done = 0;
  await inParallel(bands, parallel, async (y) => {
    const rows = Math.min(bandRows, height - y);
    await run('renderRows', { scene, out, layout, y, rows, ...(cut && { cut }) }, signal);
    onProgress(++done / bands.length, 'rendering');
  });
}
