// What jobs tell about bodies and lenses: readings of many merges, gathered into values with their spread.

/** One reading of a job. */
export interface CalibrationReading {
  readonly camera: string;
  readonly lens: string;
  readonly what: 'breathing' | 'vignetting' | 'distortion' | 'noise' | 'dust';
  readonly value: number;
  readonly unit: string;
  /** Beyond the number, what it is about: "at ISO 100". Readings of another detail are another calibration. */
  readonly detail: string;
  /** Where on the sensor it is, px; left out for what is all over. Readings of one place are one calibration. */
  readonly place?: readonly [number, number];
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

/** Readings of a place lie so near each other, px: specks are wider. */
const SAME_PLACE_PX = 12;

/** Gathers readings by body, lens and what they are of; those with most jobs come first. */
export function gatherCalibrations(readings: readonly CalibrationReading[]): GatheredCalibration[] {
  const groups: CalibrationReading[][] = [];
  for (const reading of readings) {
    const known = groups.find(([first]) => areOfOne(first!, reading));
    if (known) known.push(reading);
    else groups.push([reading]);
  }
  return groups
    .map((group) => {
      const { camera, lens, what, unit, detail, place } = group[0]!;
      const values = group.map((r) => r.value);
      const middle = middleOf(values);
      const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
      const variance = values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / Math.max(1, values.length - 1);
      return {
        ...{ camera, lens, what, unit, detail, value: middle },
        ...(place && {
          place: [0, 1].map((c) => middleOf(group.map((r) => r.place![c as 0 | 1]))) as [number, number],
        }),
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

function middleOf(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return (sorted[(sorted.length - 1) >> 1]! + sorted[sorted.length >> 1]!) / 2;
}

function areOfOne(a: CalibrationReading, b: CalibrationReading): boolean {
  // A speck sits on the sensor, whatever lens is before it.
  const isSame = a.camera === b.camera && a.what === b.what && a.detail === b.detail && (a.place || a.lens === b.lens);
  if (!isSame || !a.place || !b.place) return isSame === true;
  return Math.hypot(a.place[0] - b.place[0], a.place[1] - b.place[1]) <= SAME_PLACE_PX;
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
