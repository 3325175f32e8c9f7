// A request that cannot be carried out, as the client is told.

/** A request for something that does not exist, that cannot be done now, or that may not be asked. */
export class RequestError extends Error {
  override readonly name = 'RequestError';
  constructor(
    readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 415 | 421 | 423 | 507,
    message: string,
  ) {
    super(message);
  }
}
