// The server's parts for tests, over the built worker.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import { openPool } from '../jobs';
import type { Services } from '../services/context';
import { makeEvents } from '../services/events';
import { openStorage } from '../storage';

/** A folder that is removed by `clean`. */
export function temporaryFolder(): { path: string; clean: () => void } {
  const path = mkdtempSync(join(tmpdir(), 'blendrak-test-'));
  return { path, clean: () => rmSync(path, { recursive: true, force: true }) };
}

/** Services over a data folder. */
export function localServices(folder: string): Services {
  return {
    storage: openStorage(folder),
    events: makeEvents(),
    pool: openPool(2),
    quick: openPool(1),
    log: pino({ level: 'silent' }),
  };
}
