// A delivery as a folder of files: complete or not there at all.
import { createHash } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { copyFile, mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { errorCode } from '../../shared/errorCode';
import { isFull } from '../../shared/noRoom';
import { RequestError } from '../../shared/requestError';
import { CHECKSUMS, type ZippedFile } from './zipFiles';

const CANNOT_WRITE: Readonly<Record<string, string>> = {
  EROFS: 'is on a disk that can only be read',
  EACCES: 'may not be written by this program',
  EPERM: 'may not be written by this program',
  ENOTDIR: 'has a file where a folder is needed',
};

/**
 * Copies files into a new folder, with a list of their SHA-256 sums.
 * @param root where deliveries lie; it is made when it is missing
 * @returns the folder
 * @throws RequestError when there is a folder of that name, or the place cannot be written or is full; then nothing is left there
 */
export async function deliverIntoFolder(
  root: string,
  name: string,
  files: readonly ZippedFile[],
  signal?: AbortSignal,
): Promise<string> {
  const folder = join(root, name);
  if (existsSync(folder)) throw taken(folder);
  const making = `${folder}.being-delivered`;
  try {
    await rm(making, { recursive: true, force: true });
    await mkdir(making, { recursive: true });
    const sums: string[] = [];
    for (const { name: file, path } of files) {
      signal?.throwIfAborted();
      await copyFile(path, join(making, file));
      const hash = createHash('sha256');
      for await (const part of createReadStream(path, { signal }) as AsyncIterable<Buffer>) hash.update(part);
      sums.push(`${hash.digest('hex')}  ${file}\n`);
    }
    await writeFile(join(making, CHECKSUMS), sums.join(''));
    await rename(making, folder);
    return folder;
  } catch (error) {
    await rm(making, { recursive: true, force: true }).catch(() => undefined);
    if (isFull(error))
      throw new RequestError(507, `The delivery folder ${root} is on a full disk. Accepted: more free space there.`);
    const why = CANNOT_WRITE[errorCode(error)];
    if (why)
      throw new RequestError(
        409,
        `The delivery folder ${root} ${why}. Accepted: another one, named by BLENDRAK_DELIVERIES.`,
      );
    if (errorCode(error) === 'ENOTEMPTY' || errorCode(error) === 'EEXIST') throw taken(folder);
    throw error;
  }
}

function taken(folder: string): RequestError {
  return new RequestError(
    409,
    `${folder} is there already, and nothing is overwritten. Accepted: another name, or that folder moved away.`,
  );
}
