// The halo of a bracket: along a strong edge the blend is lighter or darker than the scene has it, and less so farther away.
import { median } from '../../image';
import { confidenceOf, placeComponent, VISIBLE_SQUARED, type Detection } from '../detection';
import type { Evidence } from '../detector';
import { growRegions } from '../grow';
import { lift } from '../layers/lift';

const MIN_CELLS = 32;
const VISIBLE = Math.sqrt(VISIBLE_SQUARED);
/** A halo begins at its edge … */
const AT_EDGE = 2;
const BEGINS = 0.08;
/** … ends within this many cells of it … */
const WIDEST = 24;
/** … and fades away from it: correlation of its lightness with the distance. */
const FADES = -0.3;

/** Finds halos along strong edges. */
export function findOvershoots(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const { lift: lifts, edge } = evidence.of(lift);
  const distance = distances(edge, width, height);
  return [1, -1].flatMap((sign) => {
    const near = (least: number): Uint8Array =>
      Uint8Array.from(lifts, (v, i) => (sign * v > least && distance[i]! <= WIDEST ? 1 : 0));
    const weak = near(VISIBLE);
    return growRegions({ width, height, data: weak }, near(2 * VISIBLE), {
      minCells: MIN_CELLS,
      minCore: MIN_CELLS / 4,
      closeCells: 1,
    }).flatMap((region): Detection[] => {
      const own = region.cells.filter((i) => weak[i]);
      const begins = own.filter((i) => distance[i]! <= AT_EDGE).length / own.length;
      const fades = correlation(
        own.map((i) => distance[i]!),
        own.map((i) => sign * lifts[i]!),
      );
      if (begins < BEGINS || fades > FADES) return [];
      const height1 = median(own.map((i) => sign * lifts[i]!));
      const confidence = confidenceOf(height1, 1.3 * VISIBLE);
      if (confidence < 0.5) return [];
      return [
        {
          defect: 'halo',
          cells: region.cells,
          ...placeComponent(region, width),
          confidence,
          measurements: {
            overshoot: { value: 100 * sign * height1, unit: '% of full scale' },
            width: { value: 4 * Math.max(...own.map((i) => distance[i]!)), unit: 'px' },
          },
          rms: height1,
        },
      ];
    });
  });
}

/** Cells to the nearest marked one, up to one more than the widest halo. */
function distances(marked: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(marked.length).fill(WIDEST + 1);
  let front: number[] = [];
  marked.forEach((v, i) => {
    if (!v) return;
    out[i] = 0;
    front.push(i);
  });
  for (let d = 1; d <= WIDEST && front.length > 0; d++) {
    const next: number[] = [];
    for (const i of front) {
      const x = i % width;
      for (const [dx, step] of [
        [-1, -1],
        [1, 1],
        [0, -width],
        [0, width],
      ] as const) {
        const j = i + step;
        if (x + dx < 0 || x + dx >= width || j < 0 || j >= width * height || out[j]! <= d) continue;
        out[j] = d;
        next.push(j);
      }
    }
    front = next;
  }
  return out;
}

function correlation(a: readonly number[], b: readonly number[]): number {
  const n = a.length;
  const mean = (values: readonly number[]): number => values.reduce((s, v) => s + v, 0) / n;
  const [ma, mb] = [mean(a), mean(b)];
  let [aa, bb, ab] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const [x, y] = [a[i]! - ma, b[i]! - mb];
    aa += x * x;
    bb += y * y;
    ab += x * y;
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
}
