// What of a finding decides how plainly it shows: its difference from what should be there, by scale, and what lies over it.
import { cellLuma, type CellPicture, type CellStack } from '../cells';
import { colourDifference, type Rgb } from '../image';
import { CELL_PX } from '../kernels';
import type { Sight, SightBand } from '../print';

/** Middles of the three detail bands of cells, and of what differs from cell to cell, cycles per px. */
const BANDS = [0.34, 0.17, 0.085] as const;
const CELLS_BAND = 0.045;
/** RMS of a step in each octave, over its height: its spectrum falls as 1/f, so that all octaves hold about as much. */
const STEP_PER_OCTAVE = 0.45;

/** How the merge differs from what should be there. */
export type Departure =
  /** From a picture of the place. */
  | { readonly from: CellPicture; readonly rms: number }
  /** By so much in structure of the kind that the place has. */
  | { readonly structure: number }
  /** By a step of tone of so much. */
  | { readonly step: number };

/**
 * What of a finding decides how plainly it shows.
 * @param cells of the finding in the stack's grid
 * @param departure RMS or height, encoded
 */
export function sightOf(stack: CellStack, cells: readonly number[], departure: Departure): Sight {
  const { bands, sizePx, ...rest } = workingSight(stack, cells, departure);
  const { unitPx } = stack;
  return {
    ...rest,
    sizePx: sizePx * unitPx,
    bands: bands.map((band) => ({ ...band, cyclesPerPx: band.cyclesPerPx / unitPx })),
  };
}

/** The same in working px. */
function workingSight(stack: CellStack, cells: readonly number[], departure: Departure): Sight {
  const merge = stack.merge!;
  const n = Math.max(1, cells.length);
  const mean = (value: (cell: number) => number): number => cells.reduce((s, i) => s + value(i), 0) / n;
  const own = cellLuma(merge);
  const luma = mean((i) => own[i]!);
  const masks = [merge.fine, merge.middle, merge.coarse].map((band) => Math.sqrt(mean((i) => band[i]!)));
  const wide = Math.sqrt(mean((i) => (own[i]! - luma) ** 2));
  const sizePx = CELL_PX * Math.sqrt(n);
  const at = { masks, wide, sizePx };
  const plain = { luma, sizePx, colour: 0 };
  if ('step' in departure) return { ...plain, bands: stepBands(departure.step, at) };
  if ('structure' in departure) return { ...plain, bands: structureBands(departure.structure ** 2, masks, at) };
  const { from, rms } = departure;
  const ideal = cellLuma(from);
  const shift = mean((i) => own[i]! - ideal[i]!);
  const spread = mean((i) => (own[i]! - ideal[i]! - shift) ** 2);
  const lost = [from.fine, from.middle, from.coarse].map((band, j) => {
    const mine = [merge.fine, merge.middle, merge.coarse][j]!;
    return Math.sqrt(mean((i) => Math.abs(band[i]! - mine[i]!) + 0.1 * band[i]!));
  });
  const fine = Math.max(0, rms ** 2 - spread - shift ** 2);
  const bands = [
    ...shared(fine, lost).map((v, j): SightBand => ({ cyclesPerPx: BANDS[j]!, rms: v, mask: masks[j]! })),
    { cyclesPerPx: CELLS_BAND, rms: Math.sqrt(spread), mask: wide },
    { cyclesPerPx: 1 / (2 * sizePx), rms: Math.abs(shift), mask: 0 },
  ];
  const colourOf = ({ mean: planes }: CellPicture): Rgb => [
    mean((i) => planes[0][i]!),
    mean((i) => planes[1][i]!),
    mean((i) => planes[2][i]!),
  ];
  return { bands, luma, sizePx, colour: colourDifference(colourOf(merge), colourOf(from)) };
}

interface Place {
  readonly masks: readonly number[];
  readonly wide: number;
  readonly sizePx: number;
}

/** A variance shared among the bands as the amplitudes of a picture say. */
function shared(variance: number, amplitudes: readonly number[]): number[] {
  const all = amplitudes.reduce((s, v) => s + v * v, 0);
  return amplitudes.map((v) => (all > 0 ? Math.sqrt(variance / all) * v : Math.sqrt(variance / amplitudes.length)));
}

function structureBands(variance: number, amplitudes: readonly number[], { masks, wide }: Place): SightBand[] {
  const all = [...amplitudes, wide];
  return shared(variance, all).map((rms, j) => ({
    cyclesPerPx: BANDS[j] ?? CELLS_BAND,
    rms,
    mask: masks[j] ?? wide,
  }));
}

/** A step has the same share in every octave, from the place's own size down to the finest. */
function stepBands(step: number, { masks, wide, sizePx }: Place): SightBand[] {
  const rms = STEP_PER_OCTAVE * step;
  const fine = BANDS.map((cyclesPerPx, j): SightBand => ({ cyclesPerPx, rms, mask: masks[j]! }));
  const coarse: SightBand[] = [];
  for (let f: number = CELLS_BAND; f > 1 / (2 * sizePx); f /= 2) coarse.push({ cyclesPerPx: f, rms, mask: wide });
  return [...fine, ...coarse, { cyclesPerPx: 1 / (2 * sizePx), rms, mask: 0 }];
}
