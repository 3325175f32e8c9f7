// What jobs tell about bodies and lenses: readings of many merges, gathered into values with their spread.

/** One reading of a job. */
export interface CalibrationReading {
  readonly camera: string;
  readonly lens: string;
  readonly what: 'breathing' | 'vignetting' | 'distortion' | 'noise' | 'dust';
  readonly value: number;
  readonly unit: string;
  /** Beyond the number, what it is about: "at ISO 100", "at (1204, 880) px". Readings of another detail are another calibration. */
  readonly detail: string;
  readonly job: { readonly id: string; readonly name: string };
  readonly at: string;
}

export interface GatheredCalibration extends Omit<CalibrationReading, 'job' | 'at'> {
  /** Median over the jobs. */
  readonly value: number;
  /** Standard deviation over the jobs; null for one job. */
  readonly spread: number | null;
  readonly jobs: readonly CalibrationReading['job'][];
  readonly latest: string;
}

/** Gathers readings by body, lens and what they are of; those with most jobs come first. */
export function gatherCalibrations(readings: readonly CalibrationReading[]): GatheredCalibration[] {
  const groups = new Map<string, CalibrationReading[]>();
  for (const reading of readings) {
    const { camera, lens, what, detail } = reading;
    const key = JSON.stringify([camera, lens, what, detail]);
    groups.set(key, [...(groups.get(key) ?? []), reading]);
  }
  return [...groups.values()]
    .map((group) => {
      const { camera, lens, what, unit, detail } = group[0]!;
      const values = group.map((r) => r.value).sort((a, b) => a - b);
      const middle = (values[(values.length - 1) >> 1]! + values[values.length >> 1]!) / 2;
      const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
      const variance = values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / Math.max(1, values.length - 1);
      return {
        ...{ camera, lens, what, unit, detail, value: middle },
        spread: values.length > 1 ? Math.sqrt(variance) : null,
        jobs: group.map((r) => r.job),
        latest: group
          .map((r) => r.at)
          .sort()
          .at(-1)!,
      };
    })
    .sort((a, b) => b.jobs.length - a.jobs.length || a.what.localeCompare(b.what));
}

/**
 * How much a lens breathes: the change of scale over a series per dioptre of focus, by least squares.
 * @param scales of the frames in the merge, in order
 * @param distancesM at which they were focused, as the files name them
 * @returns %, per dioptre; null where fewer than three frames name different distances
 */
export function breathingPerDioptre(scales: readonly number[], distancesM: readonly (number | null)[]): number | null {
  const points = scales.flatMap((scale, k): [number, number][] => {
    const distance = distancesM[k];
    return distance && distance > 0 ? [[1 / distance, 100 * Math.log(scale)]] : [];
  });
  if (new Set(points.map(([x]) => x)).size < 3) return null;
  const [mx, my] = [0, 1].map((c) => points.reduce((sum, p) => sum + p[c as 0 | 1], 0) / points.length) as [
    number,
    number,
  ];
  const [above, below] = points.reduce(
    ([a, b], [x, y]) => [a + (x - mx) * (y - my), b + (x - mx) ** 2] as [number, number],
    [0, 0] as [number, number],
  );
  return below > 0 ? above / below : null;
}
