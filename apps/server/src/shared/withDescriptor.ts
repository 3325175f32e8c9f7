// Reading a file here and now. A thread may be ended at any time, because what it reads for is deleted: a descriptor that
// was being opened for later is never closed then, and the file's space not given back; one that was opened at once is.
import { closeSync, openSync } from 'node:fs';

/** Opens a file for as long as it is read. */
export function withDescriptor<T>(path: string, read: (fd: number) => T): T {
  const fd = openSync(path, 'r');
  try {
    return read(fd);
  } finally {
    closeSync(fd);
  }
}
