// From a yes/no grid to connected regions with outlines.
import simplifyLine from 'simplify-js';
import type { Region } from './raster';

/** A yes/no grid. */
export interface Mask {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** One 8-connected component: its cells (indices into the grid) and their bounding box in cells. */
export interface Component {
  readonly cells: readonly number[];
  readonly box: Region;
}

/** Grows (r > 0) or shrinks (r < 0) a mask by |r| cells with a square element. Cost: 4 additions per cell at any r. */
export function dilate(mask: Mask, r: number): Mask {
  const invert = r < 0;
  const start = invert ? mask.data.map((v) => (v ? 0 : 1)) : mask.data.map((v) => (v ? 1 : 0));
  const grown = growRows(growColumns(start, mask, Math.abs(r)), mask, Math.abs(r));
  return { ...mask, data: invert ? grown.map((v) => (v ? 0 : 1)) : grown };
}

/** Marks cells with a marked one within n to the left or right: a count over the window tells. */
function growRows(data: Uint8Array, { width, height }: Mask, n: number): Uint8Array {
  const out = new Uint8Array(data.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let count = 0;
    for (let x = 0; x < Math.min(n, width); x++) count += data[row + x]!;
    for (let x = 0; x < width; x++) {
      if (x + n < width) count += data[row + x + n]!;
      out[row + x] = count > 0 ? 1 : 0;
      if (x - n >= 0) count -= data[row + x - n]!;
    }
  }
  return out;
}

/** The same above and below, all columns side by side. */
function growColumns(data: Uint8Array, { width, height }: Mask, n: number): Uint8Array {
  const out = new Uint8Array(data.length);
  const counts = new Uint32Array(width);
  for (let y = -n; y < height; y++) {
    const entering = (y + n) * width;
    const leaving = (y - n - 1) * width;
    for (let x = 0; x < width; x++) {
      if (y + n < height) counts[x] = counts[x]! + data[entering + x]!;
      if (y - n - 1 >= 0) counts[x] = counts[x]! - data[leaving + x]!;
      if (y >= 0) out[y * width + x] = counts[x]! > 0 ? 1 : 0;
    }
  }
  return out;
}

/** All 8-connected components, in scan order of their first cell. Cost: one visit per cell. */
export function findComponents(mask: Mask): Component[] {
  const { width, height } = mask;
  const seen = new Uint8Array(mask.data.length);
  const out: Component[] = [];
  for (let start = 0; start < mask.data.length; start++) {
    if (!mask.data[start] || seen[start]) continue;
    const cells = [start];
    seen[start] = 1;
    let [x0, y0, x1, y1] = [width, height, 0, 0];
    for (let k = 0; k < cells.length; k++) {
      const at = cells[k]!;
      const x = at % width;
      const y = (at - x) / width;
      x0 = Math.min(x0, x);
      x1 = Math.max(x1, x);
      y0 = Math.min(y0, y);
      y1 = Math.max(y1, y);
      for (let yy = Math.max(0, y - 1); yy <= Math.min(height - 1, y + 1); yy++) {
        for (let xx = Math.max(0, x - 1); xx <= Math.min(width - 1, x + 1); xx++) {
          const next = yy * width + xx;
          if (mask.data[next] && !seen[next]) {
            seen[next] = 1;
            cells.push(next);
          }
        }
      }
    }
    out.push({ cells, box: { x: x0, y: y0, width: x1 - x0 + 1, height: y1 - y0 + 1 } });
  }
  return out;
}

/** How islands are made of cells. */
interface IslandOptions {
  /** Cells that each is grown by; default 0. */
  readonly grow?: number;
  /** Cells that they are shrunk by afterwards; default 0. */
  readonly shrink?: number;
  /** What of the result is kept; default all. */
  readonly keep?: (cell: number) => boolean;
}

/**
 * Components of a few cells of a large grid, grown and shrunk, on a grid of their own: the cost is that of the box around them.
 * @param size of the whole grid, in which cells are counted
 * @returns components in cells of the whole grid; none for no cells
 */
export function findIslands(
  cells: readonly number[],
  { width, height }: Pick<Mask, 'width' | 'height'>,
  { grow = 0, shrink = 0, keep }: IslandOptions = {},
): Component[] {
  if (cells.length === 0) return [];
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  for (const i of cells) {
    const [x, y] = [i % width, Math.floor(i / width)];
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  }
  const margin = grow + shrink + 1;
  const [left, top] = [Math.max(0, x0 - margin), Math.max(0, y0 - margin)];
  const own = {
    width: Math.min(width - 1, x1 + margin) - left + 1,
    height: Math.min(height - 1, y1 + margin) - top + 1,
  };
  const out = (n: number): number => (top + Math.floor(n / own.width)) * width + left + (n % own.width);
  let data: Uint8Array = new Uint8Array(own.width * own.height);
  for (const i of cells) data[(Math.floor(i / width) - top) * own.width + (i % width) - left] = 1;
  if (grow > 0) data = dilate({ ...own, data }, grow).data;
  if (shrink > 0) data = dilate({ ...own, data }, -shrink).data;
  if (keep) data = data.map((v, n) => (v && keep(out(n)) ? 1 : 0));
  return findComponents({ ...own, data }).map(({ cells: found, box }) => ({
    cells: found.map(out),
    box: { ...box, x: box.x + left, y: box.y + top },
  }));
}

/**
 * Outer outline of a component as grid-corner points in cells, clockwise, simplified to within `tolerance` cells.
 * Only the outline that starts at the topmost cell is followed, so holes are filled.
 * Source of the simplification: D. Douglas and T. Peucker, Cartographica 10(2), 1973.
 */
export function outlineOf(component: Component, gridWidth: number, tolerance = 0.75): [number, number][] {
  const inside = new Set(component.cells);
  const has = (x: number, y: number): boolean => x >= 0 && x < gridWidth && y >= 0 && inside.has(y * gridWidth + x);
  const first = component.cells.reduce((a, b) => Math.min(a, b));
  const sx = first % gridWidth;
  const sy = (first - sx) / gridWidth;
  // Walk the corner lattice with the region on the right-hand side: 0 east, 1 south, 2 west, 3 north.
  const step = [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ] as const;
  const ahead = [
    [0, 0, 0, -1],
    [-1, 0, 0, 0],
    [-1, -1, -1, 0],
    [0, -1, -1, -1],
  ] as const; // per heading: cell ahead on the right (dx, dy), cell ahead on the left (dx, dy)
  const points: [number, number][] = [];
  let [x, y, heading] = [sx, sy, 0];
  do {
    const [rx, ry, lx, ly] = ahead[heading]!;
    const right = has(x + rx, y + ry);
    const left = has(x + lx, y + ly);
    const turn = left ? 3 : right ? 0 : 1; // left joins diagonal neighbours: the components are 8-connected
    if (turn !== 0) points.push([x, y]);
    heading = (heading + turn) % 4;
    if (turn === 3 && !right && !left) break;
    x += step[heading]![0];
    y += step[heading]![1];
  } while (!(x === sx && y === sy && heading === 3) && points.length < 20000);
  points.push([sx, sy]);
  return simplify(dedupe(points), tolerance);
}

function dedupe(points: readonly [number, number][]): [number, number][] {
  const out: [number, number][] = [];
  for (const p of points) {
    const last = out[out.length - 1];
    if (!last || last[0] !== p[0] || last[1] !== p[1]) out.push([p[0], p[1]]);
  }
  const head = out[0];
  const tail = out[out.length - 1];
  if (out.length > 1 && head && tail && head[0] === tail[0] && head[1] === tail[1]) out.pop();
  return out;
}

/** A closed line is simplified in two halves: from its first point to the one farthest from it, and back. */
function simplify(points: [number, number][], tolerance: number): [number, number][] {
  if (points.length < 5) return points;
  let far = 0;
  let best = -1;
  points.forEach((p, i) => {
    const d = Math.hypot(p[0] - points[0]![0], p[1] - points[0]![1]);
    if (d > best) [best, far] = [d, i];
  });
  const halves = [points.slice(0, far + 1), [...points.slice(far), points[0]!]];
  const out = halves.flatMap((half) =>
    simplifyLine(
      half.map(([x, y]) => ({ x, y })),
      tolerance,
      true,
    )
      .slice(0, -1)
      .map(({ x, y }): [number, number] => [x, y]),
  );
  return out.length >= 3 ? out : points;
}
