// Descriptors of a thread's files. A file is known by its path and by what lies there; a descriptor is looked up for each
// read and write and may be closed between any two of them: hundreds of frames need no more than a few at once, and a
// descriptor that the system gives out again can never be taken for another file's.
import { closeSync, fstatSync, openSync } from 'node:fs';
import { errorCode } from '../shared/errorCode';

/** A file as it was when opened first. */
export interface FileIdentity {
  readonly path: string;
  readonly key: string;
}

/** Well below what systems allow a process, for several threads. */
const MOST_OPEN = 48;

interface Open {
  readonly fd: number;
  readonly key: string;
}

const OPEN = new Map<string, Open>();

/**
 * Opens a file, or creates it.
 * @param flags as of fs.open; 'w+' empties what lies at the path
 */
export function openFile(path: string, flags: 'r+' | 'w+'): FileIdentity {
  drop(path);
  return { path, key: hold(path, flags).key };
}

/**
 * A descriptor of a file, valid until the next call that asks for one.
 * @throws Error when another file lies at the path now
 */
export function descriptorOf({ path, key }: FileIdentity): number {
  const known = OPEN.get(path);
  if (known?.key === key) {
    OPEN.delete(path);
    OPEN.set(path, known);
    return known.fd;
  }
  drop(path);
  const opened = hold(path, 'r+');
  if (opened.key === key) return opened.fd;
  drop(path);
  throw new Error(`${path} has been replaced by another file since it was opened`);
}

export function closeDescriptor({ path }: FileIdentity): void {
  drop(path);
}

/** Closes all that this thread holds: deleted files give their space back. */
export function closeDescriptors(): void {
  for (const path of [...OPEN.keys()]) drop(path);
}

/** Descriptors that this thread holds now. */
export function openDescriptors(): number {
  return OPEN.size;
}

function hold(path: string, flags: 'r+' | 'w+'): Open {
  while (OPEN.size >= MOST_OPEN) drop(OPEN.keys().next().value!);
  const fd = openOrMakeRoom(path, flags);
  const { dev, ino, birthtimeMs } = fstatSync(fd);
  // Numbers of deleted files are given out again: the time of birth tells such files apart.
  const opened = { fd, key: `${dev}:${ino}:${birthtimeMs}` };
  OPEN.set(path, opened);
  return opened;
}

function openOrMakeRoom(path: string, flags: 'r+' | 'w+'): number {
  try {
    return openSync(path, flags);
  } catch (error) {
    if (!['EMFILE', 'ENFILE'].includes(errorCode(error)) || OPEN.size === 0) throw error;
    closeDescriptors();
    return openSync(path, flags);
  }
}

function drop(path: string): void {
  const known = OPEN.get(path);
  if (!known) return;
  OPEN.delete(path);
  closeSync(known.fd);
}
