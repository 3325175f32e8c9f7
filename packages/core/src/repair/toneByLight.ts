// A donor's tone brought to its surroundings by place and lightness: a merge of exposures bends tones, and bends them otherwise from place
// to place, so that what is to be added to a light thing is not what is to be added to the dark one beside it.
import { requireLength } from '../checks';
import { LUMA_WEIGHTS, type Region } from '../image';
import { nodeBetween, type ToneField } from './toneField';

/** Nodes along each side, and levels of the donor's lightness: contrast changes slower over a picture than tone does. */
const [MOST_NODES, NODE_PX, LEVELS] = [8, 24, 9];
/** A difference larger than this is another thing, not another tone. */
const MOST_OFFSET = 0.35;
/** So many px say as much as the nodes around. */
const PULL_PX = 12;
const [SWEEPS, SETTLED] = [400, 1e-5];

/**
 * Fits a field: mean differences around the mask by place and lightness, solved for evenly where nothing is told: in the mask, and at
 * lightnesses that are nowhere around.
 * Source: the bilateral grid of J. Chen, S. Paris and F. Durand, ACM ToG 26(3), 2007, with a membrane between its nodes.
 * @param merge R, G, B of the box as repaired so far, encoded 0..1
 * @param donor R, G, B of the donor there, and where it is valid
 * @param mask of the box, 0..1
 * @returns null where nothing around the mask can be compared
 * @throws ParameterError for pictures of different sizes
 * Cost: 60 ns per px, and some 10 ms for the nodes.
 */
export function fitToneByLight(
  merge: readonly Float32Array[],
  donor: readonly Float32Array[],
  mask: Float32Array,
  { width, height }: Pick<Region, 'width' | 'height'>,
): ToneField | null {
  requireLength('fitToneByLight.length', [...merge, ...donor, mask], width * height);
  const [columns, rows] = [width, height].map((side) =>
    Math.max(2, Math.min(MOST_NODES, Math.ceil(side / NODE_PX))),
  ) as [number, number];
  const told = gather(merge, donor, mask, width, height, columns, rows);
  if (!told.weights.some((w) => w > 0)) return null;
  const values = solve(told, columns, rows);
  return { columns, rows, levels: LEVELS, values: Array.from(values, (v) => Number(v.toFixed(4))) };
}

/** Differences by node, as sums, and how many px they are of. */
interface Told {
  readonly sums: Float64Array;
  readonly weights: Float64Array;
}

function gather(
  merge: readonly Float32Array[],
  donor: readonly Float32Array[],
  mask: Float32Array,
  width: number,
  height: number,
  columns: number,
  rows: number,
): Told {
  const count = columns * rows * LEVELS;
  const [sums, weights] = [new Float64Array(3 * count), new Float64Array(count)];
  const [r, g, b, valid] = donor as [Float32Array, Float32Array, Float32Array, Float32Array];
  for (let i = 0; i < mask.length; i++) {
    if (mask[i]! > 0 || !valid[i]) continue;
    const luma = LUMA_WEIGHTS[0] * r[i]! + LUMA_WEIGHTS[1] * g[i]! + LUMA_WEIGHTS[2] * b[i]!;
    const [l, fl] = nodeBetween(luma * (LEVELS - 1), LEVELS);
    const [x, fx] = nodeBetween((((i % width) + 0.5) * columns) / width - 0.5, columns);
    const [y, fy] = nodeBetween(((Math.floor(i / width) + 0.5) * rows) / height - 0.5, rows);
    for (let corner = 0; corner < 8; corner++) {
      const [u, v, k] = [corner & 1, (corner >> 1) & 1, corner >> 2];
      const w = (u ? fx : 1 - fx) * (v ? fy : 1 - fy) * (k ? fl : 1 - fl);
      const node = ((l + k) * rows + y + v) * columns + x + u;
      weights[node] = weights[node]! + w;
      for (let c = 0; c < 3; c++) {
        const apart = Math.min(MOST_OFFSET, Math.max(-MOST_OFFSET, merge[c]![i]! - donor[c]![i]!));
        sums[3 * node + c] = sums[3 * node + c]! + w * apart;
      }
    }
  }
  return { sums, weights };
}

/** Gauss–Seidel sweeps: each node is what its px tell, and the mean of the nodes around it as far as they tell little. */
function solve({ sums, weights }: Told, columns: number, rows: number): Float64Array {
  const total = weights.reduce((sum, w) => sum + w, 0);
  const means = [0, 1, 2].map((c) => sums.reduce((sum, v, n) => (n % 3 === c ? sum + v : sum), 0) / total);
  const values = Float64Array.from(sums, (_, n) => means[n % 3]!);
  const strides = [
    [1, columns],
    [columns, rows],
    [columns * rows, LEVELS],
  ] as const;
  const neighbours = Array.from(weights, (_, node) =>
    strides.flatMap(([stride, length]) => {
      const at = Math.floor(node / stride) % length;
      return [...(at > 0 ? [node - stride] : []), ...(at < length - 1 ? [node + stride] : [])];
    }),
  );
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    let most = 0;
    for (let node = 0; node < weights.length; node++) {
      const beside = neighbours[node]!;
      for (let c = 0; c < 3; c++) {
        const around = beside.reduce((sum, m) => sum + values[3 * m + c]!, 0) / beside.length;
        const v = (sums[3 * node + c]! + PULL_PX * around) / (weights[node]! + PULL_PX);
        most = Math.max(most, Math.abs(v - values[3 * node + c]!));
        values[3 * node + c] = v;
      }
    }
    if (most < SETTLED) break;
  }
  return values;
}
