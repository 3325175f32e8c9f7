// What all services share.
import { randomBytes } from 'node:crypto';
import type { Logger } from 'pino';
import type { Pool } from '../jobs';
import type { Storage } from '../storage';
import type { Conductor } from './conductor/openConductor';
import type { Events } from './events';
import type { Merges } from './look/merges';

export interface Services {
  readonly storage: Storage;
  readonly events: Events;
  /** Merges as they are looked at, read once. */
  readonly merges: Merges;
  /** Long work. */
  readonly pool: Conductor;
  /** What a person waits for. */
  readonly quick: Pool;
  /** Folders on this machine that pictures may be read from; links are resolved. */
  readonly roots: readonly string[];
  readonly log: Logger;
}

export function newId(): string {
  return randomBytes(9).toString('base64url').replace(/[-_]/g, 'x');
}
