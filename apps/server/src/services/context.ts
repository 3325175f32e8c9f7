// What all services share.
import { randomBytes } from 'node:crypto';
import type { Logger } from 'pino';
import type { Pool } from '../jobs';
import type { Storage } from '../storage';
import type { Events } from './events';

export interface Services {
  readonly storage: Storage;
  readonly events: Events;
  /** Long work. */
  readonly pool: Pool;
  /** What a person waits for. */
  readonly quick: Pool;
  readonly log: Logger;
}

export function newId(): string {
  return randomBytes(9).toString('base64url').replace(/[-_]/g, 'x');
}
