// Frames that show another moment of a place than all others: something had moved into them, or out of them.
import { cellTent, oddMoments, type CellStack } from '../cells';
import { median } from '../image';

/** So many frames must show a place before one of them can be told to be odd. */
const LEAST_FRAMES = 4;
/** Broad forms, wider than blur spreads light: a tent over so many cells on either side. */
const RADIUS = 5;
/** An odd frame differs by this much, encoded RMS, and by so many times as much as any other frame. */
const LEAST_APART = 0.03;
const TIMES_OTHERS = 2.5;
/** It is odd as well where it shows something that neither of its neighbours shows, over this share of the place. */
const ODD_SHARE = 0.25;
/** Cells looked at, spread over the place. */
const MOST_CELLS = 150;

/**
 * Which frames of a stack show another moment there. Their detail is no proof that the merge is soft, and they are no donors.
 * @param cells of the stack
 * @returns one flag per frame; none where fewer than four frames cover the place, or frames differ in tone
 * Cost: 363 multiplications per frame and cell looked at.
 */
export function otherMoments(stack: CellStack, cells: readonly number[]): boolean[] {
  const { width, height, frames } = stack;
  const none = frames.map(() => false);
  if (frames.some((f) => f.relation)) return none;
  const step = Math.max(1, Math.floor(cells.length / MOST_CELLS));
  const looked = cells.filter((_, n) => n % step === 0);
  const there = frames.map((f) => looked.length > 0 && looked.every((i) => f.valid[i]));
  const able = frames.flatMap((_, k) => (there[k] ? [k] : []));
  if (able.length < LEAST_FRAMES) return none;
  const { meanAt } = cellTent(width, height, RADIUS);
  const apart = new Map(able.map((k) => [k, 0]));
  for (const i of looked) {
    for (const c of [0, 1, 2] as const) {
      const values = able.map((k) => meanAt(frames[k]!.mean[c], i));
      const usual = median(values);
      able.forEach((k, n) => apart.set(k, apart.get(k)! + (values[n]! - usual) ** 2));
    }
  }
  const rms = able.map((k) => Math.sqrt(apart.get(k)! / (3 * looked.length)));
  const most = Math.max(...rms);
  const next = Math.max(...rms.filter((_, n) => n !== rms.indexOf(most)));
  const odd = most > LEAST_APART && most > TIMES_OTHERS * next ? able[rms.indexOf(most)]! : -1;
  const moved = oddMoments(stack).odd.map((map) => cells.filter((i) => map[i]).length > ODD_SHARE * cells.length);
  return frames.map((_, k) => k === odd || moved[k]!);
}
