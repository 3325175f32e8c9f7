// Findings and maps of an inspection in working px, told in px of the merge, and back.
import type { Region } from '../image';
import { CELL_PX } from '../kernels';
import type { Detection, Measurement } from './detection';

/** A merge's cells at full size, and as it is inspected: px of the merge along each side of a working px. */
export interface TwoGrids {
  readonly unitPx: number;
  readonly full: Grid;
  readonly working: Grid;
}

interface Grid {
  readonly width: number;
  readonly height: number;
}

/**
 * The grids of a merge.
 * @param width, height of the merge, px
 */
export function twoGrids(width: number, height: number, unitPx: number): TwoGrids {
  const cells = (side: number, px: number): number => Math.floor(Math.floor(side / px) / CELL_PX);
  return {
    unitPx,
    full: { width: cells(width, 1), height: cells(height, 1) },
    working: { width: cells(width, unitPx), height: cells(height, unitPx) },
  };
}

/** Powers of a length that measurements are, by their unit; others are none. */
const LENGTHS: Readonly<Record<string, number>> = { px: 1, '1000 px': 2 };

/** Measurements with lengths so many times as long. */
export function scaledMeasurements(
  measurements: Detection['measurements'],
  times: number,
): Readonly<Record<string, Measurement>> {
  return Object.fromEntries(
    Object.entries(measurements).map(([name, { value, unit }]) => [
      name,
      { value: value * times ** (LENGTHS[unit] ?? 0), unit },
    ]),
  );
}

function scaled(detection: Detection, times: number): Omit<Detection, 'cells'> {
  const { bbox, polygon, measurements } = detection;
  return {
    ...detection,
    bbox: { x: bbox.x * times, y: bbox.y * times, width: bbox.width * times, height: bbox.height * times },
    polygon: polygon.map(([x, y]) => [x * times, y * times] as const),
    measurements: scaledMeasurements(measurements, times),
  };
}

/** A finding in working px, told in px and cells of the merge. */
export function detectionInFullPx(detection: Detection, { unitPx, full, working }: TwoGrids): Detection {
  if (unitPx === 1) return detection;
  const cells = detection.cells.flatMap((i) => {
    const [x, y] = [(i % working.width) * unitPx, Math.floor(i / working.width) * unitPx];
    return Array.from({ length: unitPx * unitPx }, (_, n) => [x + (n % unitPx), y + Math.floor(n / unitPx)] as const);
  });
  return {
    ...scaled(detection, unitPx),
    cells: cells.filter(([x, y]) => x < full.width && y < full.height).map(([x, y]) => y * full.width + x),
  };
}

/** A finding in px and cells of the merge, told in working px. */
export function detectionInWorkingPx(detection: Detection, { unitPx, full, working }: TwoGrids): Detection {
  if (unitPx === 1) return detection;
  const cells = new Set<number>();
  for (const i of detection.cells) {
    const x = Math.floor((i % full.width) / unitPx);
    const y = Math.floor(Math.floor(i / full.width) / unitPx);
    if (x < working.width && y < working.height) cells.add(y * working.width + x);
  }
  return { ...scaled(detection, 1 / unitPx), cells: [...cells] };
}

/** A region of the merge in working px, grown to whole ones. */
export function regionInWorkingPx({ x, y, width, height }: Region, unitPx: number): Region {
  const [left, top] = [Math.floor(x / unitPx), Math.floor(y / unitPx)];
  return {
    x: left,
    y: top,
    width: Math.ceil((x + width) / unitPx) - left,
    height: Math.ceil((y + height) / unitPx) - top,
  };
}

/** A map of working cells as one of the merge's; what lies beyond the last whole working cell is as that one. */
export function mapInFullPx<T extends Uint8Array | Float32Array>(map: T, { unitPx, full, working }: TwoGrids): T {
  if (unitPx === 1) return map;
  const out = (
    map instanceof Uint8Array ? new Uint8Array(full.width * full.height) : new Float32Array(full.width * full.height)
  ) as T;
  for (let y = 0; y < full.height; y++) {
    const row = Math.min(working.height - 1, Math.floor(y / unitPx)) * working.width;
    for (let x = 0; x < full.width; x++)
      out[y * full.width + x] = map[row + Math.min(working.width - 1, Math.floor(x / unitPx))]!;
  }
  return out;
}
