// A request that cannot be carried out, as the client is told.

/** A request for something that does not exist, or that cannot be done now. */
export class RequestError extends Error {
  override readonly name = 'RequestError';
  constructor(
    readonly status: 400 | 404 | 409 | 413 | 507,
    message: string,
  ) {
    super(message);
  }
}
