// How fine the detail of a set is: whether its pictures are sharp at the pixel, or in larger px only.
import { median } from '../image';
import type { CellFrame, CellStack } from './gatherCells';

/** Cells whose detail stands so many times above noise tell. */
const OVER_NOISE = 10;
/** What has most detail tells: the strongest edges of what is in focus. Of a region so much is kept, of the whole so much counts. */
const KEPT_SHARE = 0.1;
const TELLING_SHARE = 0.03;
const LEAST_CELLS = 60;

/** The finest detail of a cell and detail half as fine, energies, in the frame that has most of it. */
export type FinenessSample = readonly [fine: number, middle: number];

/** The cells of a region that have most detail. */
export function finenessSamples({ frames, noiseMiddle }: CellStack): FinenessSample[] {
  const out: FinenessSample[] = [];
  for (let i = 0; i < noiseMiddle.length; i++) {
    let best: CellFrame | null = null;
    for (const frame of frames) if (frame.valid[i] && (!best || frame.middle[i]! > best.middle[i]!)) best = frame;
    if (best && best.middle[i]! > OVER_NOISE * noiseMiddle[i]!) out.push([best.fine[i]!, best.middle[i]!]);
  }
  return strongest(out, KEPT_SHARE);
}

/**
 * Energy of the finest detail of a set over that of detail half as fine, where there is most of it. Bands overlap: pictures that have nothing
 * beyond a quarter of a cycle per px, as those enlarged twice, come to 0.13; sharp ones to 0.18 and more.
 * @returns null where too few cells tell
 */
export function finenessOf(samples: readonly FinenessSample[]): number | null {
  const telling = strongest(samples, TELLING_SHARE / KEPT_SHARE);
  return telling.length < LEAST_CELLS ? null : median(telling.map(([fine, middle]) => fine / middle));
}

function strongest(samples: readonly FinenessSample[], share: number): FinenessSample[] {
  return [...samples].sort((a, b) => b[1] - a[1]).slice(0, Math.ceil(share * samples.length));
}
