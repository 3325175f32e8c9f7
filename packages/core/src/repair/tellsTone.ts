// Where an exposure tells of tones: where it is clipped it has one value for many, and only a merge that is clipped alike agrees with it.
import { requireLength } from '../checks';

/** Encoded values of a merge beyond which it is black or white itself. */
const MERGE_RANGE = [0.012, 0.97] as const;

/**
 * Flags px in which a donor and a merge can be compared in tone.
 * @param merge R, G, B, encoded 0..1
 * @param donor R, G, B as it is toned, and where it is valid
 * @param ranges values of each of the donor's channels beyond which it is clipped (`heldRanges`)
 * @returns 1 for a px that tells
 * @throws ParameterError for planes of different sizes
 */
export function tellsTone(
  merge: readonly Float32Array[],
  donor: readonly Float32Array[],
  ranges: readonly (readonly [black: number, white: number])[],
): Float32Array {
  const valid = donor[3]!;
  requireLength('tellsTone.length', [...merge, ...donor], valid.length);
  const [black, white] = MERGE_RANGE;
  return valid.map((covered, i) => {
    if (!covered) return 0;
    for (let c = 0; c < 3; c++) {
      const [v, m] = [donor[c]![i]!, merge[c]![i]!];
      if ((v >= ranges[c]![1] && m < white) || (v <= ranges[c]![0] && m > black)) return 0;
    }
    return 1;
  });
}
