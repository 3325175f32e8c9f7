// Files that outlive a power cut: contents are on the disk before the name is, and the name before a row tells of it.
import { open, rename, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Moves a complete file into place; when this resolves, it is there after a power cut, too. */
export async function moveDurably(from: string, to: string): Promise<void> {
  await settle(from);
  await rename(from, to);
  await settle(dirname(to));
}

/**
 * Writes a whole file into place.
 * @param scratch path on the same disk to write it to first
 */
export async function writeDurably(path: string, data: Uint8Array | string, scratch: string): Promise<void> {
  await writeFile(scratch, data);
  await moveDurably(scratch, path);
}

/** Waits until a file, or the list of files in a folder, is on the disk. */
async function settle(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}
