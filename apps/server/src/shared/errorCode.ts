// The code that the system, the database or a library gives an error.

/** Also of errors made in another realm, which are no instances of ours; '' when there is none. */
export function errorCode(error: unknown): string {
  if (typeof error !== 'object' || error === null || !('code' in error)) return '';
  return typeof error.code === 'string' ? error.code : '';
}
