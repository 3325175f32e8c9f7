// Pictures in folders on the server's machine: which folders may be read, and what in them counts. One rule for jobs and cards.
import { realpathSync } from 'node:fs';
import { readdir, realpath, stat } from 'node:fs/promises';
import { basename, join, resolve, sep } from 'node:path';
import { InputError, isPictureName, requireFile } from '../../codecs';

const BY_NAME = new Intl.Collator('en', { numeric: true });
const ACCEPTED_PICTURES = 'JPEG, PNG, TIFF, WebP, AVIF or OpenRaster files';

/** A picture file where it lies. */
export interface FoundFile {
  readonly name: string;
  readonly path: string;
  readonly sizeBytes: number;
}

/**
 * Folders that a start opens for reading, links resolved.
 * @throws InputError for one that is not there
 */
export function resolveRoots(folders: readonly string[]): string[] {
  return folders.map((folder) => {
    try {
      return realpathSync(resolve(folder));
    } catch {
      throw new InputError(folder, 'the folder cannot be read', 'a folder that is there');
    }
  });
}

/**
 * Looks for pictures in a folder, in order by name.
 * @param roots folders below which it must lie; null for a folder of our own
 * @param wanted which names count
 * @throws InputError when the folder may not or cannot be read, when a link in it leads out of it, or when it holds no picture
 */
export async function picturesIn(
  folder: string,
  roots: readonly string[] | null,
  wanted: (name: string) => boolean = isPictureName,
): Promise<FoundFile[]> {
  const place = await realpath(resolve(folder)).catch(() => cannotRead(folder));
  if (roots) requireBelow(folder, place, roots);
  const names = await readdir(place).catch(() => cannotRead(folder));
  const found: FoundFile[] = [];
  for (const name of names.filter(wanted).sort(BY_NAME.compare)) {
    const path = join(place, name);
    const info = await stat(path).catch(() => null);
    // Folders, pipes and links that lead nowhere are no pictures, whatever they are called.
    if (!info?.isFile()) continue;
    if (!isBelow(await realpath(path), place))
      throw new InputError(name, 'this link leads out of the folder', 'files that lie in the folder itself');
    found.push({ name, path, sizeBytes: info.size });
  }
  if (found.length === 0) throw new InputError(folder, 'there are no pictures in it', ACCEPTED_PICTURES);
  return found;
}

/**
 * A single picture by its path.
 * @throws InputError when it may not or cannot be read, or is no file
 */
export async function pictureAt(path: string, roots: readonly string[] | null): Promise<FoundFile> {
  const { size } = await requireFile(path);
  if (roots) requireBelow(path, await realpath(path), roots);
  return { name: basename(path), path, sizeBytes: size };
}

function cannotRead(folder: string): never {
  throw new InputError(folder, 'the folder cannot be read', 'a folder on this machine that holds pictures');
}

function requireBelow(given: string, place: string, roots: readonly string[]): void {
  if (roots.some((root) => isBelow(place, root))) return;
  throw new InputError(
    given,
    'it lies outside the folders that this server may read',
    `what lies below ${roots.join(' or ')} (the start names them: --read FOLDER)`,
  );
}

function isBelow(path: string, folder: string): boolean {
  return path === folder || path.startsWith(folder.endsWith(sep) ? folder : folder + sep);
}
