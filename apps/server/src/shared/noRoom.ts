// A full disk, as work, requests and the database tell it.
import { errorCode } from './errorCode';

/** Something needs more room than the disk has; nothing was begun, or what was begun has been taken back. */
export class NoRoomError extends Error {
  override readonly name = 'NoRoomError';
  constructor(
    /** What needs the room, as in "the tiles of frame03.tif". */
    readonly what: string,
    readonly neededBytes: number,
    readonly freeBytes: number,
  ) {
    super(
      `The disk is full: ${what} needs ${inWords(neededBytes)}, ${inWords(freeBytes)} are free. ` +
        'Accepted: more free space on the disk of the data folder.',
    );
  }
}

/** Room that work on pictures leaves to the database, to uploads and to the rest of the machine. */
export const KEEP_FREE_BYTES = 64e6;

const FULL = new Set(['ENOSPC', 'EDQUOT', 'SQLITE_FULL', 'SQLITE_IOERR_SHMSIZE', 'SQLITE_IOERR_WRITE']);

/** Whether an error says that there is no room left, whoever says it. */
export function isFull(error: unknown): boolean {
  if (error instanceof NoRoomError) return true;
  if (FULL.has(errorCode(error))) return true;
  // Picture libraries pass the system's words on, not its code.
  return /no space left on device|disk quota exceeded/i.test(error instanceof Error ? error.message : '');
}

/** A number of bytes for people. */
export function inWords(bytes: number): string {
  if (bytes >= 1e9) return `${(bytes / 1e9).toFixed(1)} GB`;
  return bytes >= 1e6 ? `${Math.round(bytes / 1e6)} MB` : `${Math.max(0, Math.round(bytes / 1e3))} kB`;
}
