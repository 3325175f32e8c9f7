// A folder that several files of tests begin from: made by whichever needs it first, copied by all.
import { cpSync, existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { errorCode } from '../shared/errorCode';

/** Where they lie for one run of all tests: scripts/sharedFolder.cjs makes it, scripts/sharedFolderEnd.cjs removes it. */
const SHARED = 'BLENDRAK_TEST_SHARED';

/**
 * Copies a shared folder to where a file of tests works on it.
 * @param make fills the folder it is given, once in a run
 */
export async function copyShared(name: string, make: (path: string) => Promise<void>, to: string): Promise<void> {
  const root = process.env[SHARED];
  if (!root) throw new Error(`${SHARED} names no folder: tests are started through jest.config.cjs`);
  const path = join(root, name);
  const [making, failed, lock] = [`${path}.making`, `${path}.failed`, `${path}.lock`];
  if (isFirst(lock)) {
    try {
      await make(making);
      renameSync(making, path);
    } catch (error) {
      writeFileSync(failed, String(error));
      throw error;
    }
  }
  while (!existsSync(path)) {
    if (existsSync(failed)) throw new Error(`what is shared could not be made: ${readFileSync(failed, 'utf8')}`);
    await setTimeout(100);
  }
  cpSync(path, to, { recursive: true });
}

/** Whether no other process of the run has been here. */
function isFirst(lock: string): boolean {
  try {
    mkdirSync(lock);
    return true;
  } catch (error) {
    if (errorCode(error) === 'EEXIST') return false;
    throw error;
  }
}
