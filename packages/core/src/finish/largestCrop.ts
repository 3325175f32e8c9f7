// The largest clean crop: upright, of a wanted shape or any, within the turned picture and clear of what is to be cut off.
import { badParameter } from '../checks';
import { largestRectangle, paintArea, type Region } from '../image';
import { liesWithin, turnedPlace, type Size } from './turnPicture';

export interface CropWish {
  /** See `turnedPlace`. */
  readonly turnDeg: number;
  /** Width over height; null for any. */
  readonly aspect: number | null;
  /** What must not be in it, merge px. */
  readonly blocked: readonly (readonly (readonly [x: number, y: number])[])[];
}

/** Cells along the picture's longer side: a crop is first found to one of these, then grown px by px. */
const CELLS = 480;

/**
 * Finds the largest crop.
 * @param size of the picture, px
 * @returns in px of the turned picture, at whole px; null where nothing of 16 px or more is left
 * @throws ParameterError for a turn beyond 20° or a shape thinner than 1 to 20
 * Cost: some 30 ms, whatever the picture's size.
 */
export function largestCrop(size: Size, { turnDeg, aspect, blocked }: CropWish): Region | null {
  if (aspect !== null && !(aspect >= 1 / 20 && aspect <= 20))
    throw badParameter('largestCrop.aspect', '0.05 to 20', aspect);
  const unit = Math.max(size.width, size.height) / CELLS;
  const turned = turnedPlace(size, turnDeg);
  const [columns, rows] = [Math.floor(size.width / unit), Math.floor(size.height / unit)];
  const areas = blocked.map((polygon) => polygon.map(([x, y]) => turned(x, y)));
  const mask = cleanCells(size, turnDeg, areas, columns, rows, unit);
  const found = aspect === null ? largestRectangle(mask, columns, rows) : largestOfShape(mask, columns, rows, aspect);
  const [x, y] = [Math.ceil(found.x * unit), Math.ceil(found.y * unit)];
  const coarse: Region = {
    ...{ x, y },
    width: Math.floor((found.x + found.width) * unit) - x,
    height: Math.floor((found.y + found.height) * unit) - y,
  };
  const isClean = (region: Region): boolean =>
    isInside(size, region) && liesWithin(size, turnDeg, region) && !areas.some((area) => meets(area, region));
  const fine = aspect === null ? grown(coarse, isClean) : grownInShape(coarse, aspect, isClean);
  return Math.min(fine.width, fine.height) >= 16 ? fine : null;
}

/** Cells whose four corners lie in the picture and that nothing blocked reaches. */
function cleanCells(
  size: Size,
  turnDeg: number,
  areas: readonly (readonly (readonly [number, number])[])[],
  columns: number,
  rows: number,
  unit: number,
): Uint8Array {
  const shapes = areas.map((area) => ({
    kind: 'polygon' as const,
    corners: area.map(([x, y]) => [x / (columns * unit), y / (rows * unit)] as const),
  }));
  const blocked = paintArea(shapes, columns, rows).data;
  // Narrow strips lie between the middles of cells: their corners block, too.
  for (const [x, y] of areas.flat()) {
    const [column, row] = [Math.floor(x / unit), Math.floor(y / unit)];
    if (column >= 0 && row >= 0 && column < columns && row < rows) blocked[row * columns + column] = 1;
  }
  const mask = new Uint8Array(columns * rows);
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const cell = { x: column * unit, y: row * unit, width: unit, height: unit };
      if (!blocked[row * columns + column] && liesWithin(size, turnDeg, cell)) mask[row * columns + column] = 1;
    }
  return mask;
}

/** The largest rectangle of a shape: if one fits, so does every smaller one of its shape, so its size is halved in. */
function largestOfShape(mask: Uint8Array, columns: number, rows: number, aspect: number): Region {
  const sums = new Int32Array((columns + 1) * (rows + 1));
  for (let y = 0; y < rows; y++)
    for (let x = 0, row = 0; x < columns; x++) {
      row += mask[y * columns + x]!;
      sums[(y + 1) * (columns + 1) + x + 1] = sums[y * (columns + 1) + x + 1]! + row;
    }
  const at = (x: number, y: number): number => sums[y * (columns + 1) + x]!;
  const find = (width: number): Region | null => {
    const height = Math.max(1, Math.round(width / aspect));
    let best: { region: Region; off: number } | null = null;
    for (let y = 0; y + height <= rows; y++)
      for (let x = 0; x + width <= columns; x++) {
        const inside = at(x + width, y + height) - at(x, y + height) - at(x + width, y) + at(x, y);
        if (inside < width * height) continue;
        // Of several the one nearest to the middle.
        const off = Math.hypot(x + width / 2 - columns / 2, y + height / 2 - rows / 2);
        if (!best || off < best.off) best = { region: { x, y, width, height }, off };
      }
    return best && best.region;
  };
  let [found, low, high]: [Region | null, number, number] = [null, 0, columns + 1];
  while (high - low > 1) {
    const width = (low + high) >> 1;
    const region = find(width);
    if (region) [found, low] = [region, width];
    else high = width;
  }
  return found ?? { x: 0, y: 0, width: 0, height: 0 };
}

/** Each side moved out as far as it goes, by halving steps. */
function grown(region: Region, isClean: (region: Region) => boolean): Region {
  let now = region;
  const sides: readonly ((by: number) => Region)[] = [
    (by) => ({ ...now, x: now.x - by, width: now.width + by }),
    (by) => ({ ...now, y: now.y - by, height: now.height + by }),
    (by) => ({ ...now, width: now.width + by }),
    (by) => ({ ...now, height: now.height + by }),
  ];
  for (let by = 256; by >= 1; by /= 2) for (const side of sides) if (isClean(side(by))) now = side(by);
  return now;
}

/** The same for a shape that is kept: larger, and moved where it must. */
function grownInShape(region: Region, aspect: number, isClean: (region: Region) => boolean): Region {
  let now = { ...region, height: Math.round(region.width / aspect) };
  if (!isClean(now)) now = { ...region, width: Math.floor(region.height * aspect) };
  for (let by = 256; by >= 1; by /= 2) {
    const width = now.width + by;
    const height = Math.round(width / aspect);
    for (const [dx, dy] of [
      [0.5, 0.5],
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
    ] as const) {
      const next = {
        x: Math.round(now.x - dx * (width - now.width)),
        y: Math.round(now.y - dy * (height - now.height)),
        ...{ width, height },
      };
      if (!isClean(next)) continue;
      now = next;
      break;
    }
  }
  return now;
}

function isInside({ width, height }: Size, region: Region): boolean {
  return region.x >= 0 && region.y >= 0 && region.x + region.width <= width && region.y + region.height <= height;
}

/** Whether the box of a polygon reaches into a region. */
function meets(polygon: readonly (readonly [number, number])[], { x, y, width, height }: Region): boolean {
  const [xs, ys] = [polygon.map(([px]) => px), polygon.map(([, py]) => py)];
  return Math.min(...xs) < x + width && Math.max(...xs) > x && Math.min(...ys) < y + height && Math.max(...ys) > y;
}
