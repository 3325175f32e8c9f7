// Difficulty that follows the learner.

/** How faint the defects of an exercise are made: none, some, most of them. */
export const LEVELS = [0, 0.25, 0.5, 0.75, 1] as const;

/** Finds in a row after which it gets harder. */
const IN_A_ROW = 2;

/**
 * Where a learner stands with one defect: two finds in a row make it a step harder, a miss a step easier. It settles where 71 of
 * 100 are found. Source: H. Levitt, "Transformed up-down methods in psychoacoustics", J. Acoust. Soc. Am. 49 (1971).
 * @param finds in order of time: whether each was found
 * @returns index into `LEVELS`
 */
export function staircase(finds: readonly boolean[]): number {
  let [level, row] = [0, 0];
  for (const found of finds) {
    row = found ? row + 1 : 0;
    if (!found) level = Math.max(0, level - 1);
    else if (row === IN_A_ROW) {
      level = Math.min(LEVELS.length - 1, level + 1);
      row = 0;
    }
  }
  return level;
}
