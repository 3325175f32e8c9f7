// A file or folder that cannot be used.

/** Says which file, what is wrong and what would be accepted; shown to the user as it stands. */
export class InputError extends Error {
  override readonly name = 'InputError';
  constructor(
    readonly file: string,
    readonly problem: string,
    readonly accepted: string,
  ) {
    super(`${file}: ${problem}. Accepted: ${accepted}.`);
  }
}
