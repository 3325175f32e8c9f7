// The server's parts for tests, over the built worker.
import { mkdtempSync, realpathSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import { openPool } from '../jobs';
import { openConductor } from '../services/conductor/openConductor';
import type { Services } from '../services/context';
import { makeEvents } from '../services/events';
import { makeMerges } from '../services/look/merges';
import { openStorage } from '../storage';

/** A folder that is removed by `clean`. */
export function temporaryFolder(): { path: string; clean: () => void } {
  const path = mkdtempSync(join(tmpdir(), 'blendrak-test-'));
  return { path, clean: () => rmSync(path, { recursive: true, force: true }) };
}

/**
 * Services over a data folder; pictures may be read from the system's temporary folder.
 * @param threads for long work; default: as many as tests are given
 */
export function localServices(folder: string, threads?: number): Services {
  const storage = openStorage(folder);
  return {
    storage,
    events: makeEvents(),
    merges: makeMerges(storage),
    pool: openConductor(threads),
    quick: openPool({ threads: 1 }),
    roots: [realpathSync(tmpdir())],
    log: pino({ level: 'silent' }),
  };
}
