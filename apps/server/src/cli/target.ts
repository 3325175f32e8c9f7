// Files that a command writes: never over an input, written beside and renamed, refused before the work when they cannot be.
import {
  closeSync,
  fsyncSync,
  openSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
  type Stats,
} from 'node:fs';
import { basename, dirname, extname, join, resolve } from 'node:path';
import { InputError } from '../codecs';
import { errorCode } from '../shared/errorCode';
import { isFull, NoRoomError } from '../shared/noRoom';
import { removeIfInterrupted } from './workspace';

export interface Target {
  /** What the user named. */
  readonly path: string;
  /** Where it is to be written; the same ending. */
  readonly part: string;
  /** Puts what was written in place. */
  commit(): void;
  /** Removes what was not put in place. */
  discard(): void;
}

const WHY: Readonly<Record<string, string>> = {
  ENOENT: 'its folder is not there',
  ENOTDIR: 'its folder is a file',
  ENAMETOOLONG: 'its name is too long',
};

/**
 * Prepares a file to be written.
 * @param option names it in refusals, as in "--out"
 * @param inputs files that must stay as they are
 * @throws InputError when it is an input, by whatever name, or cannot be written
 */
export function prepareTarget(option: string, path: string, inputs: readonly string[]): Target {
  const there = statOf(path);
  if (there?.isDirectory()) throw new InputError(option, `${path} is a folder`, 'a file to write');
  const same = there && inputs.find((input) => isSame(input, there));
  if (same)
    throw new InputError(
      option,
      `${path} is one of the pictures that are read (${basename(same)}) and would be overwritten`,
      'a file of another name, or in another folder',
    );
  // A terminal or /dev/null is written to as it is.
  if (there && !there.isFile()) return { path, part: path, commit: () => undefined, discard: () => undefined };
  const place = there ? realpathSync(path) : resolve(path);
  const part = join(dirname(place), `.${basename(place, extname(place)).slice(0, 100)}.blendrak-part${extname(place)}`);
  try {
    closeSync(openSync(part, 'w'));
  } catch (error) {
    if (isFull(error)) throw new NoRoomError(path, 1e6, 0);
    throw new InputError(
      option,
      `${path} cannot be written (${WHY[errorCode(error)] ?? 'its folder may not be written to'})`,
      'a file in a folder that is there and may be written to',
    );
  }
  const forget = removeIfInterrupted(part);
  return {
    path,
    part,
    commit() {
      const fd = openSync(part, 'r+');
      fsyncSync(fd);
      closeSync(fd);
      renameSync(part, place);
      forget();
    },
    discard() {
      rmSync(part, { force: true });
      forget();
    },
  };
}

/** Runs work with a target that is put in place by it, or leaves nothing. */
export async function withTargets<T>(targets: readonly (Target | null)[], work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } finally {
    // After a commit nothing is left to discard.
    for (const target of targets) if (target && target.part !== target.path) target.discard();
  }
}

/** Writes a JSON file in place of its target. */
export function writeJson(target: Target, value: unknown): void {
  writeText(target, `${JSON.stringify(value, null, 1)}\n`);
}

/** Writes a text and puts it in place. */
export function writeText(target: Target, text: string): void {
  writeFileSync(target.part, text);
  target.commit();
}

/** What lies at a path; undefined for nothing, and for a path that cannot be. */
function statOf(path: string): Stats | undefined {
  try {
    return statSync(path, { throwIfNoEntry: false });
  } catch (error) {
    if (['ENOTDIR', 'ENAMETOOLONG'].includes(errorCode(error))) return undefined;
    throw error;
  }
}

function isSame(input: string, there: { readonly dev: number; readonly ino: number }): boolean {
  const info = statSync(input, { throwIfNoEntry: false });
  return info !== undefined && info.dev === there.dev && info.ino === there.ino;
}
