// The state of a part: the last stroke in force on it, whatever happens elsewhere.
import type { SavedStroke } from '@blendrak/contract';
import { strokeAt } from './strokeAt';

const stroke = (id: string, x: number, y: number, undone = false): SavedStroke => ({
  id,
  frame: 0,
  points: [
    [x, y],
    [x + 10, y],
  ],
  sizePx: 20,
  hardness: 0.5,
  strength: 1,
  undone,
});
const tile = { x: 512, y: 512, width: 512, height: 512 };

describe('strokeAt', () => {
  it('is "0" without strokes and beside strokes elsewhere', () => {
    expect(strokeAt([], tile, 1)).toBe('0');
    expect(strokeAt([stroke('far', 200, 200)], tile, 1)).toBe('0');
  });

  it('names the last stroke that reaches in, not later ones elsewhere', () => {
    const strokes = [stroke('first', 600, 600), stroke('second', 700, 700), stroke('far', 100, 100)];
    expect(strokeAt(strokes, tile, 1)).toBe('second');
  });

  it('counts the brush radius, and the reach of resampling on a reduced tile', () => {
    // Centre line 14 px above the tile: radius 10 and 1 px of rim do not reach it, two reduced pixels of 4 px do.
    const above = [stroke('above', 600, 498)];
    expect(strokeAt(above, tile, 1)).toBe('0');
    expect(strokeAt(above, tile, 4)).toBe('above');
    expect(strokeAt([stroke('rim', 600, 504)], tile, 1)).toBe('rim');
  });

  it('goes back to the stroke before when the last is undone, and forward again', () => {
    expect(strokeAt([stroke('first', 600, 600), stroke('second', 700, 700, true)], tile, 1)).toBe('first');
    expect(strokeAt([stroke('first', 600, 600), stroke('second', 700, 700)], tile, 1)).toBe('second');
  });
});
