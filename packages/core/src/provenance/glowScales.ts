// Spread light at every width: narrow on the cells themselves, wide on cells of two and four times the size.
import type { CellStack } from './cellStack';
import { coarserCells } from './coarserCells';
import { findGlowNear, type Glow, type GlowFinder } from './glow';
import type { NearSide } from './nearSide';
import { sharpestFrames } from './sharpest';

/** Reaches of 24, 48 and 96 px: the disc of an edge at the far end of the series at 100 MP. */
const SCALES = 3;

/**
 * Prepares the search for spread light in one region.
 * @param best sharpest frame per cell
 * @returns a finder that answers with the width of light that errs most over what another frame would show
 * Cost: a third more than the search on the finest cells.
 */
export function makeGlowFinder(stack: CellStack, best: Uint8Array): GlowFinder {
  // The narrowest light is a cell or two wide: there colours are averaged over fewer cells.
  const finders = [findGlowNear(stack, best, 1)];
  const widths = [stack.width];
  let coarse = stack;
  while (finders.length < SCALES && Math.min(coarse.width, coarse.height) >= 8) {
    coarse = coarserCells(coarse);
    widths.push(coarse.width);
    finders.push(remember(findGlowNear(coarse, sharpestFrames(coarse)), coarse));
  }
  const worst = (cell: number, ask: (finder: GlowFinder, cell: number) => Glow | null): Glow | null => {
    const x = cell % stack.width;
    const y = (cell - x) / stack.width;
    let found: Glow | null = null;
    for (let s = 0; s < finders.length; s++) {
      const glow = ask(finders[s]!, (y >> s) * widths[s]! + (x >> s));
      if (glow && (!found || excessOf(glow) > excessOf(found))) found = glow;
    }
    return found;
  };
  return {
    inFrame: (cell, shown, side) => worst(cell, (finder, c) => finder.inFrame(c, shown, side)),
    inMerge: (cell, side) => worst(cell, (finder, c) => finder.inMerge(c, side)),
  };
}

function excessOf(glow: Glow): number {
  return glow.squaredError - glow.leastError;
}

/** Keeps answers: up to 16 fine cells ask for the same coarse one, mostly about the same frame. */
function remember(finder: GlowFinder, { width, height }: CellStack): GlowFinder {
  const size = width * height;
  const keep = (ask: (cell: number, shown: number, side: NearSide) => Glow | null) => {
    const known = { first: new Map<number, Glow | null>(), last: new Map<number, Glow | null>() };
    return (cell: number, shown: number, side: NearSide): Glow | null => {
      if (cell >= size) return null;
      const answers = known[side];
      const key = shown * size + cell;
      let glow = answers.get(key);
      if (glow === undefined) answers.set(key, (glow = ask(cell, shown, side)));
      return glow;
    };
  };
  const inFrame = keep((cell, shown, side) => finder.inFrame(cell, shown, side));
  const inMerge = keep((cell, _, side) => finder.inMerge(cell, side));
  return { inFrame, inMerge: (cell, side) => inMerge(cell, 0, side) };
}
