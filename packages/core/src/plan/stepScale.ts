// A camera's own scale of focus steps, as its user found it out.

/** One setting of the camera's focus bracketing and what it does. */
export interface StepScale {
  readonly setting: string;
  /** Step as a share of the depth of field. */
  readonly fraction: number;
}

export interface StepChoice {
  readonly setting: string;
  readonly fraction: number;
  /** Overlap of neighbouring slices that follows. */
  readonly overlap: number;
}

/**
 * The widest setting that still keeps the overlap wanted.
 * @returns null when the table is empty or none is fine enough
 */
export function chooseStep(table: readonly StepScale[], overlap: number): StepChoice | null {
  const fine = table.filter((row) => row.fraction > 0 && row.fraction <= 1 - overlap + 1e-9);
  if (fine.length === 0) return null;
  const { setting, fraction } = fine.reduce((best, row) => (row.fraction > best.fraction ? row : best));
  return { setting, fraction, overlap: 1 - fraction };
}
