// The one way in which an operator refuses a parameter.

/** Thrown when a parameter is outside what an operator accepts. */
export class ParameterError extends Error {
  override readonly name = 'ParameterError';
  /**
   * @param path dotted path of the parameter, such as `estimateSimilarity.options.levels`
   * @param expected accepted range with its unit
   * @param actual the value received
   */
  constructor(
    readonly path: string,
    readonly expected: string,
    readonly actual: string,
  ) {
    super(`${path}: expected ${expected}, received ${actual}`);
  }
}

/**
 * Builds the error for a bad parameter.
 * @param path dotted path of the parameter
 * @param expected accepted range, with unit; names the mending call if there is one
 * @param actual value received; printed as JSON
 */
export function badParameter(path: string, expected: string, actual: unknown): ParameterError {
  return new ParameterError(path, expected, JSON.stringify(actual) ?? String(actual));
}
