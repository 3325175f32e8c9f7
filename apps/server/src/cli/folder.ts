// A folder of frames, stored for a run without a server.
import { readdir, stat } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import { InputError, isPictureName } from '../codecs';
import { inParallel, type SetPicture, type StepContext } from '../pipeline';

/** Picture files of a folder in shooting order by name (numbers count as numbers), without the merge itself. */
export async function listFrames(folder: string, exclude?: string): Promise<string[]> {
  const names = await readdir(folder).catch(() => {
    throw new InputError(folder, 'the folder cannot be read', 'a folder that holds the frames');
  });
  const skip = exclude ? resolve(exclude) : '';
  const paths: string[] = [];
  for (const name of names.sort(new Intl.Collator('en', { numeric: true }).compare)) {
    const path = join(folder, name);
    if (!isPictureName(name) || resolve(path) === skip) continue;
    const info = await stat(path).catch(() => {
      throw new InputError(name, 'this link leads nowhere', 'pictures, or links to pictures');
    });
    // Folders, pipes and devices are no pictures, whatever they are called.
    if (info.isFile()) paths.push(path);
  }
  if (paths.length === 0)
    throw new InputError(folder, 'there are no pictures in it', 'JPEG, PNG, TIFF, WebP or AVIF files');
  return paths;
}

/** Stores pictures as tile files in a workspace. */
export async function storeAll(
  paths: readonly string[],
  workspace: string,
  context: StepContext,
): Promise<SetPicture[]> {
  let done = 0;
  return inParallel(paths, context.parallel, async (path, i): Promise<SetPicture> => {
    const name = basename(path);
    const tiles = join(workspace, `${i}.tiles`);
    const info = await context.run('store', { path, name, out: tiles }, context.signal);
    context.onProgress(++done / paths.length, `read ${done} of ${paths.length} files`);
    const { width, height, bits, noise, exif } = info;
    return { name, tiles, width, height, bits, noise, exif };
  });
}
