// Whose a data folder is, and which server works in it. Nothing in a folder is touched before both are settled.
import {
  closeSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readFileSync,
  readdirSync,
  statSync,
  writeSync,
} from 'node:fs';
import { join, resolve } from 'node:path';
import Database from 'better-sqlite3';
import { z } from 'zod';
import { InputError } from '../codecs';
import { errorCode } from '../shared/errorCode';

const MARKER = 'blendrak-data.json';
const LOCK = 'blendrak.lock';
const RUNNING = 'blendrak-running.json';
const DATABASE = 'blendrak.sqlite';
/** What data folders held before they carried a marker. */
const OLDER_NAMES = new Set(['incoming', 'originals', 'tiles', 'looks', 'cards', 'bench-merge']);
/** Entries that a file system or the lock itself puts into an empty folder. */
const EMPTY_NAMES = new Set([LOCK, RUNNING, 'lost+found']);
const ACCEPTED = 'a new or empty folder, or a data folder that Blendrak made';

const markerSchema = z.object({ format: z.literal('blendrak-data'), version: z.literal(1) });
const runningSchema = z.object({ pid: z.number(), startedAt: z.string(), address: z.string().nullable() });

/** The right to work in a data folder, until it is given back or the process ends. */
export interface Claim {
  readonly root: string;
  /** Tells others who ask where this server answers. */
  announce(address: string): void;
  release(): void;
}

/**
 * Claims a data folder: ours by our own marker, written when we make it in an empty folder, and nobody else's meanwhile.
 * The lock is one of the operating system's on a file, so that a kill gives it back.
 * @throws InputError for a folder that holds other things, or in which another server works; it is left as it is
 */
export function claimFolder(root: string): Claim {
  const base = resolve(root);
  const state = stateOf(base);
  if (state === 'new') mkdirSync(base, { recursive: true });
  const lock = takeLock(base);
  try {
    // Only now nobody else can have made it ours, or changed it, meanwhile.
    const now = stateOf(base);
    if (now === 'older') requireOlderDatabase(base);
    if (now !== 'ours') writeWhole(join(base, MARKER), { format: 'blendrak-data', version: 1, madeAt: stamp() });
  } catch (error) {
    lock.close();
    throw error;
  }
  const note = (address: string | null): void =>
    writeWhole(join(base, RUNNING), { pid: process.pid, startedAt: stamp(), address });
  note(null);
  return { root: base, announce: note, release: () => lock.close() };
}

type FolderState = 'new' | 'empty' | 'ours' | 'older';

/** @throws InputError when a folder is neither empty nor ours */
function stateOf(base: string): FolderState {
  const info = statSync(base, { throwIfNoEntry: false });
  if (!info) return 'new';
  if (!info.isDirectory()) throw new InputError(base, 'this is a file, not a folder', ACCEPTED);
  const marker = join(base, MARKER);
  if (existsSync(marker)) {
    if (markerSchema.safeParse(parsed(marker)).success) return 'ours';
    throw new InputError(base, `its ${MARKER} cannot be read, or is of a newer Blendrak`, ACCEPTED);
  }
  const names = readdirSync(base).filter((name) => !EMPTY_NAMES.has(name));
  if (names.length === 0) return 'empty';
  const strange = names.filter((name) => !OLDER_NAMES.has(name) && !name.startsWith(DATABASE));
  if (names.includes(DATABASE) && strange.length === 0) return 'older';
  const shown = (strange.length > 0 ? strange : names).sort();
  const some = shown.slice(0, 3).join(', ') + (shown.length > 3 ? ` and ${shown.length - 3} more` : '');
  throw new InputError(base, `the folder holds other things (${some}); nothing in it was touched`, ACCEPTED);
}

/** A folder from before there were markers is ours when its database is. */
function requireOlderDatabase(base: string): void {
  const ours = (): boolean => {
    const db = new Database(join(base, DATABASE), { fileMustExist: true });
    try {
      const tables = db.prepare<[], { name: string }>("SELECT name FROM sqlite_master WHERE type = 'table'").all();
      return ['jobs', 'pictures', 'strokes', 'work'].every((name) => tables.some((t) => t.name === name));
    } finally {
      db.close();
    }
  };
  let known = false;
  try {
    known = ours();
  } catch (error) {
    if (!errorCode(error).startsWith('SQLITE_')) throw error;
  }
  if (!known) throw new InputError(base, `its ${DATABASE} is no database of Blendrak; nothing was touched`, ACCEPTED);
}

function takeLock(base: string): Database.Database {
  const lock = new Database(join(base, LOCK), { timeout: 0 });
  try {
    // Nothing is ever written: no journal file is wanted beside it.
    lock.pragma('journal_mode = MEMORY');
    lock.pragma('locking_mode = EXCLUSIVE');
    lock.exec('BEGIN EXCLUSIVE');
    return lock;
  } catch (error) {
    lock.close();
    if (!errorCode(error).startsWith('SQLITE_BUSY')) throw error;
    throw new InputError(
      base,
      `another Blendrak works in this data folder${whoHas(base)}`,
      'a data folder of its own for each server (--data), or this one after the other has been stopped',
    );
  }
}

function whoHas(base: string): string {
  const known = runningSchema.safeParse(parsed(join(base, RUNNING)));
  if (!known.success) return '';
  const { pid, startedAt, address } = known.data;
  return ` (process ${pid}, since ${startedAt}${address ? `, at ${address}` : ''})`;
}

function parsed(path: string): unknown {
  try {
    return JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    // Not there, or half written by a kill: it tells nothing.
    return null;
  }
}

function writeWhole(path: string, value: unknown): void {
  const fd = openSync(path, 'w');
  try {
    writeSync(fd, `${JSON.stringify(value)}\n`);
    fsyncSync(fd);
  } finally {
    closeSync(fd);
  }
}

function stamp(): string {
  return new Date().toISOString();
}
