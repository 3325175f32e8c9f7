// Outlines with holes, filled again: what is covered is counted cell by cell.
import { findComponents, paintArea } from '../image';
import { outlineWithHoles } from './holes';

const [W, H] = [60, 40];
const grid = (isIn: (x: number, y: number) => boolean): Uint8Array =>
  Uint8Array.from({ length: W * H }, (_, i) => (isIn(i % W, Math.floor(i / W)) ? 1 : 0));
const isWithin = (x: number, y: number, left: number, top: number, width: number, height: number): boolean =>
  x >= left && x < left + width && y >= top && y < top + height;
const covered = (mask: Uint8Array, open: Uint8Array): Uint8Array => {
  const [piece, ...others] = findComponents({ width: W, height: H, data: mask });
  expect(others).toEqual([]);
  const corners = outlineWithHoles(piece!, W, H, open).map(([x, y]) => [x / W, y / H] as const);
  return Uint8Array.from(paintArea([{ kind: 'polygon', corners }], W, H).data);
};

const first = (x: number, y: number): boolean => isWithin(x, y, 12, 10, 8, 10);
const second = (x: number, y: number): boolean => isWithin(x, y, 34, 14, 12, 6);
const whole = (x: number, y: number): boolean => isWithin(x, y, 5, 5, 50, 30);

it('what has to stay open is not covered, all else is, and the slits to it are', () => {
  const mask = grid((x, y) => whole(x, y) && !first(x, y) && !second(x, y));
  expect(
    covered(
      mask,
      grid((x, y) => first(x, y) || second(x, y)),
    ),
  ).toEqual(mask);
});

it('a hole that need not stay open is filled, and so is one of a few cells', () => {
  const mask = grid((x, y) => whole(x, y) && !first(x, y) && !second(x, y) && !isWithin(x, y, 25, 25, 2, 2));
  const open = grid((x, y) => first(x, y) || isWithin(x, y, 25, 25, 2, 2));
  expect(covered(mask, open)).toEqual(grid((x, y) => whole(x, y) && !first(x, y)));
});

it('what a way leads out of is no hole; what touches the outside at a corner alone is one', () => {
  // Its way out is a cell wide.
  const bay = (x: number, y: number): boolean => first(x, y) || isWithin(x, y, 15, 0, 1, 10);
  const mask = grid((x, y) => whole(x, y) && !bay(x, y));
  const out = covered(mask, new Uint8Array(W * H).fill(1));
  expect(Array.from(out).filter((v, i) => first(i % W, Math.floor(i / W)) && v)).toEqual([]);
  const cornered = grid((x, y) => whole(x, y) && !isWithin(x, y, 5, 5, 4, 4) && !isWithin(x, y, 9, 9, 8, 8));
  expect(covered(cornered, new Uint8Array(W * H))).toEqual(grid((x, y) => whole(x, y) && !isWithin(x, y, 5, 5, 4, 4)));
});
