// What of a picture was looked at at full size: squares with the quarters of a second for which each was in sight.
import { SWEEP_CELL_PX } from '@blendrak/contract';
import { inSight, type Camera, type PictureRegion, type PictureSize } from '../../../viewer/camera';

export interface SweepGrid {
  readonly columns: number;
  readonly rows: number;
  readonly seen: Uint8Array;
}

/** A square counts as looked at after so many quarters of a second. */
const SEEN_QUARTERS = 3;
/** Full size, but for rounding: px of the screen per px of the picture. */
const FULL_SIZE = 0.97;
/** A square is in sight when so much of it is at most cut off, px. */
const CUT_PX = SWEEP_CELL_PX / 4;
/** Steps of the sweep overlap by this share of the pane, and by so much that every square is in sight in one of them. */
const OVERLAP = 0.12;
const LEAST_OVERLAP_PX = 2 * CUT_PX;

export function emptySweep({ width, height }: PictureSize): SweepGrid {
  const [columns, rows] = [Math.ceil(width / SWEEP_CELL_PX), Math.ceil(height / SWEEP_CELL_PX)];
  return { columns, rows, seen: new Uint8Array(columns * rows) };
}

/**
 * Squares that are in sight, nearly or wholly, as far as the picture goes; none while it is shown smaller than it is.
 * @param pixelRatio px of the screen per CSS px
 */
export function squaresInSight(camera: Camera, picture: PictureSize, pixelRatio: number): number[] {
  const sight = inSight(camera, picture);
  if (!sight || camera.zoom * pixelRatio < FULL_SIZE) return [];
  const { columns, rows } = emptySweep(picture);
  const first = (v: number): number => Math.ceil((v - CUT_PX) / SWEEP_CELL_PX);
  const end = (v: number, size: number, n: number): number =>
    v >= size - 0.5 ? n : Math.floor((v + CUT_PX) / SWEEP_CELL_PX);
  const squares: number[] = [];
  for (let y = first(sight.y); y < end(sight.y + sight.height, picture.height, rows); y++)
    for (let x = first(sight.x); x < end(sight.x + sight.width, picture.width, columns); x++)
      squares.push(y * columns + x);
  return squares;
}

/** Adds a quarter of a second to some squares. */
export function addLook(grid: SweepGrid, squares: readonly number[]): SweepGrid {
  const seen = grid.seen.slice();
  for (const i of squares) seen[i] = Math.min(255, seen[i]! + 1);
  return { ...grid, seen };
}

/** Two together. */
export function joinSweeps(a: SweepGrid, b: SweepGrid): SweepGrid {
  return { ...a, seen: a.seen.map((v, i) => Math.min(255, v + (b.seen[i] ?? 0))) };
}

export function isSeen({ seen }: SweepGrid, square: number): boolean {
  return seen[square]! >= SEEN_QUARTERS;
}

/** Share of the squares that were looked at, 0..1. */
export function seenShare(grid: SweepGrid): number {
  let n = 0;
  for (let i = 0; i < grid.seen.length; i++) if (isSeen(grid, i)) n++;
  return n / grid.seen.length;
}

/**
 * The next part of a sweep at full size, from where the picture lies now: to and fro, row by row, in overlapping steps, past what was seen.
 * @returns null once all was looked at
 */
export function nextUnseen(
  grid: SweepGrid,
  camera: Camera,
  picture: PictureSize,
  pixelRatio: number,
): PictureRegion | null {
  const stations = stationsOf(camera, picture, pixelRatio);
  const [x, y] = [camera.originX + camera.width / camera.zoom / 2, camera.originY + camera.height / camera.zoom / 2];
  const from = (s: PictureRegion): number => Math.hypot(s.x + s.width / 2 - x, s.y + s.height / 2 - y);
  const start = stations.reduce((best, s, k) => (from(s) < from(stations[best]!) ? k : best), 0);
  for (let step = 0; step < stations.length; step++) {
    const station = stations[(start + step) % stations.length]!;
    const there = { ...camera, originX: station.x, originY: station.y, zoom: 1 / pixelRatio };
    if (squaresInSight(there, picture, pixelRatio).some((i) => !isSeen(grid, i))) return station;
  }
  return null;
}

/** Parts of the picture that fill the pane at full size, to and fro. */
function stationsOf({ width, height }: Camera, picture: PictureSize, pixelRatio: number): PictureRegion[] {
  const along = (pane: number, size: number): number[] => {
    const shown = pane * pixelRatio;
    const overlap = Math.max(OVERLAP * shown, LEAST_OVERLAP_PX);
    const n = Math.max(1, Math.ceil((size - overlap) / Math.max(1, shown - overlap)));
    return Array.from({ length: n }, (_, k) => (n === 1 ? (size - shown) / 2 : (k * (size - shown)) / (n - 1)));
  };
  const [xs, ys] = [along(width, picture.width), along(height, picture.height)];
  return ys.flatMap((y, row) =>
    (row % 2 === 0 ? xs : xs.toReversed()).map((x) => ({
      x,
      y,
      width: width * pixelRatio,
      height: height * pixelRatio,
    })),
  );
}

/** As it travels: squares as text. */
export function packSeen(seen: Uint8Array): string {
  return btoa(Array.from(seen, (v) => String.fromCharCode(v)).join(''));
}

export function unpackSeen(text: string): Uint8Array {
  return Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
}
