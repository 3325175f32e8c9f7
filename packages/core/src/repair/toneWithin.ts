// A donor's tone told by the place itself: where a merge is wrong in its detail alone, its tone, seen coarsely, is right there, and tells more
// of the place than what lies around it.
import { requireLength } from '../checks';
import type { Region } from '../image';
import { nodeBetween, type ToneField } from './toneField';

/** A difference larger than this is another thing, not another tone. */
const MOST_OFFSET = 0.2;
/** So many px say as much as that nothing differs. */
const PULL_PX = 12;

/**
 * Adds to a field, at every lightness alike, what merge and toned donor still differ by around each of its nodes, in the mask as beside it.
 * The means are weighted as fields are drawn, bilinearly, and reach over two distances of nodes: detail that one of the two lacks has little
 * part in them.
 * @param merge R, G, B of the field's box as repaired so far, encoded 0..1
 * @param toned R, G, B of the donor with the field added, and where it is valid
 * @returns a field of as many nodes
 * @throws ParameterError for pictures of different sizes
 */
export function fitToneWithin(
  merge: readonly Float32Array[],
  toned: readonly Float32Array[],
  field: ToneField,
  { width, height }: Pick<Region, 'width' | 'height'>,
): ToneField {
  requireLength('fitToneWithin.length', [...merge, ...toned], width * height);
  const { columns, rows, values } = field;
  const count = columns * rows;
  const [sums, weights] = [new Float64Array(3 * count), new Float64Array(count)];
  const valid = toned[3]!;
  for (let y = 0; y < height; y++) {
    const [v, fy] = nodeBetween(((y + 0.5) * rows) / height - 0.5, rows);
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!valid[i]) continue;
      const [u, fx] = nodeBetween(((x + 0.5) * columns) / width - 0.5, columns);
      for (let corner = 0; corner < 4; corner++) {
        const [right, down] = [corner & 1, corner >> 1];
        const w = (right ? fx : 1 - fx) * (down ? fy : 1 - fy);
        const node = (v + down) * columns + u + right;
        weights[node] = weights[node]! + w;
        for (let c = 0; c < 3; c++) {
          const apart = Math.min(MOST_OFFSET, Math.max(-MOST_OFFSET, merge[c]![i]! - toned[c]![i]!));
          sums[3 * node + c] = sums[3 * node + c]! + w * apart;
        }
      }
    }
  }
  const more = sums.map((sum, n) => sum / (weights[Math.floor(n / 3)]! + PULL_PX));
  return { ...field, values: values.map((v, n) => Number((v + more[n % (3 * count)]!).toFixed(5))) };
}
