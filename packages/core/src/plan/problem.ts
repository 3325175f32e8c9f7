// What a planner says about a field: an error it cannot compute with, or a warning it computes in spite of.

/** A word on one field of a request. */
export interface FieldProblem {
  /** Dotted path of the field, such as `lens.focalLengthMm`. */
  readonly field: string;
  readonly severity: 'error' | 'warning';
  /** What is wrong, with the value, and what is accepted and why. */
  readonly message: string;
}

/** Gathers problems of a request. */
export interface ProblemList {
  readonly problems: readonly FieldProblem[];
  error(field: string, message: string): void;
  warn(field: string, message: string): void;
  /** Notes an error unless value is a number from low to high. */
  range(field: string, name: string, value: number, low: number, high: number, unit: string): boolean;
}

/** A list that problems of a request are noted in, in the order in which they are found. */
export function gatherProblems(): ProblemList {
  const problems: FieldProblem[] = [];
  const add = (severity: FieldProblem['severity'], field: string, message: string): void => {
    // The first word on a field is the one to mend first.
    if (!problems.some((p) => p.field === field && p.severity === 'error')) problems.push({ field, severity, message });
  };
  return {
    problems,
    error: (field, message) => add('error', field, message),
    warn: (field, message) => add('warning', field, message),
    range(field, name, value, low, high, unit) {
      if (value >= low && value <= high) return true;
      const space = unit && unit !== '°' && unit !== '%' ? ' ' : '';
      const given = Number.isFinite(value) ? `${round(value)}${space}${unit}` : 'no number';
      add('error', field, `${name}: ${given}. From ${low} to ${high}${space}${unit} is accepted.`);
      return false;
    },
  };
}

/** True when something keeps a plan from being computed. */
export function hasErrors(problems: readonly FieldProblem[]): boolean {
  return problems.some((p) => p.severity === 'error');
}

function round(value: number): string {
  return String(Number(value.toPrecision(4)));
}
