// How much a file may unpack to: checked before anything is unpacked.
import { statfsSync } from 'node:fs';
import { inWords, KEEP_FREE_BYTES, NoRoomError } from '../shared/noRoom';
import { InputError } from './inputError';

/** Files that unpack to no more than this are small enough whatever their own size. */
const SMALL_BYTES = 256e6;
/** No format for photographs packs them tighter: deflate ends at 1,032 times, LZW at some 1,400. */
const MOST_TIMES = 2000;

/**
 * @param unpackedBytes of all pictures that are to be taken out of the file
 * @throws InputError for a small file that swells beyond all measure
 */
export function checkUnpacked(name: string, fileBytes: number, unpackedBytes: number): void {
  if (unpackedBytes <= Math.max(SMALL_BYTES, MOST_TIMES * fileBytes)) return;
  const times = Math.round(unpackedBytes / Math.max(1, fileBytes)).toLocaleString('en');
  throw new InputError(
    name,
    `it would unpack to ${inWords(unpackedBytes)}, ${times} times its size`,
    `files that unpack to at most ${MOST_TIMES.toLocaleString('en')} times their size, or to ${inWords(SMALL_BYTES)}`,
  );
}

/**
 * @param folder on the disk that receives them
 * @param what needs the room, for people
 * @throws NoRoomError before anything is written
 */
export function requireRoom(folder: string, bytes: number, what: string): void {
  const { bavail, bsize } = statfsSync(folder);
  const free = bavail * bsize;
  if (free < bytes + KEEP_FREE_BYTES) throw new NoRoomError(what, bytes + KEEP_FREE_BYTES, free);
}
