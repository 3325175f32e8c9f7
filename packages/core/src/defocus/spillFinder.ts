// Spread light at every width: narrow on the cells themselves, wide on cells of two and four times the size.
import { coarserCells, sharpestFrames, type CellStack } from '../cells';
import { findSpillNear, type Spill, type SpillFinder } from './findSpill';
import type { NearSide } from './nearSide';

/** Reaches of 24, 48 and 96 px: the disc of an edge at the far end of the series at 100 MP. */
const SCALES = 3;

/**
 * Prepares the search for spread light in one region.
 * @param best sharpest frame per cell
 * @returns a finder that answers with the width of light that errs most over what another frame would show
 * Cost: a third more than the search on the finest cells.
 */
export function makeSpillFinder(stack: CellStack, best: Uint8Array): SpillFinder {
  // The narrowest light is a cell or two wide: there colours are averaged over fewer cells.
  const finders = [findSpillNear(stack, best, 1)];
  const widths = [stack.width];
  let coarse = stack;
  while (finders.length < SCALES && Math.min(coarse.width, coarse.height) >= 8) {
    coarse = coarserCells(coarse);
    widths.push(coarse.width);
    finders.push(remember(findSpillNear(coarse, sharpestFrames(coarse)), coarse));
  }
  const worst = (cell: number, ask: (finder: SpillFinder, cell: number) => Spill | null): Spill | null => {
    const x = cell % stack.width;
    const y = (cell - x) / stack.width;
    let found: Spill | null = null;
    for (let s = 0; s < finders.length; s++) {
      const spill = ask(finders[s]!, (y >> s) * widths[s]! + (x >> s));
      if (spill && (!found || excessOf(spill) > excessOf(found))) found = spill;
    }
    return found;
  };
  return {
    inFrame: (cell, shown, side) => worst(cell, (finder, c) => finder.inFrame(c, shown, side)),
    inMerge: (cell, side) => worst(cell, (finder, c) => finder.inMerge(c, side)),
  };
}

function excessOf(spill: Spill): number {
  return spill.squaredError - spill.leastError;
}

/** Keeps answers: up to 16 fine cells ask for the same coarse one, mostly about the same frame. */
function remember(finder: SpillFinder, { width, height }: CellStack): SpillFinder {
  const size = width * height;
  const keep = (ask: (cell: number, shown: number, side: NearSide) => Spill | null) => {
    const known = { first: new Map<number, Spill | null>(), last: new Map<number, Spill | null>() };
    return (cell: number, shown: number, side: NearSide): Spill | null => {
      if (cell >= size) return null;
      const answers = known[side];
      const key = shown * size + cell;
      let spill = answers.get(key);
      if (spill === undefined) answers.set(key, (spill = ask(cell, shown, side)));
      return spill;
    };
  };
  const inFrame = keep((cell, shown, side) => finder.inFrame(cell, shown, side));
  const inMerge = keep((cell, _, side) => finder.inMerge(cell, side));
  return { inFrame, inMerge: (cell, side) => inMerge(cell, 0, side) };
}
