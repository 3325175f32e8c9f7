// Where things lie in the data folder.
import { existsSync, mkdirSync, readdirSync, rmSync, statfsSync } from 'node:fs';
import { join, resolve } from 'node:path';

export interface DataFolder {
  readonly root: string;
  readonly database: string;
  /** Uploads that are not complete yet; emptied at start. */
  readonly incoming: string;
  original(pictureId: string): string;
  tiles(id: string): string;
  icc(id: string): string;
  labels(id: string): string;
  /** What sorting saw of a card's file, and its thumbnail. */
  look(id: string): string;
  thumb(id: string): string;
  freeBytes(): number;
}

const FOLDERS = ['incoming', 'originals', 'tiles', 'looks'];

/** Makes the folders and sweeps what a killed run left half written. */
export function openDataFolder(root: string): DataFolder {
  const base = resolve(root);
  for (const name of FOLDERS) mkdirSync(join(base, name), { recursive: true });
  for (const name of readdirSync(join(base, 'incoming')))
    rmSync(join(base, 'incoming', name), { recursive: true, force: true });
  for (const name of readdirSync(join(base, 'tiles'))) {
    if (name.endsWith('.part')) rmSync(join(base, 'tiles', name), { force: true });
  }
  return {
    root: base,
    database: join(base, 'blendrak.sqlite'),
    incoming: join(base, 'incoming'),
    original: (id) => join(base, 'originals', id),
    tiles: (id) => join(base, 'tiles', `${id}.tiles`),
    icc: (id) => join(base, 'tiles', `${id}.icc`),
    labels: (id) => join(base, 'tiles', `${id}.labels`),
    look: (id) => join(base, 'looks', `${id}.look`),
    thumb: (id) => join(base, 'looks', `${id}.jpg`),
    freeBytes: () => {
      const s = statfsSync(base);
      return s.bavail * s.bsize;
    },
  };
}

/** Deletes files no row names any more. */
export function sweepOrphans(folder: DataFolder, knownIds: ReadonlySet<string>): void {
  for (const [name, suffix] of [
    ['originals', /$/],
    ['tiles', /\.(tiles|icc|labels)$/],
    ['looks', /\.(look|jpg)$/],
  ] as const) {
    for (const file of readdirSync(join(folder.root, name))) {
      if (!knownIds.has(file.replace(suffix, ''))) rmSync(join(folder.root, name, file), { force: true });
    }
  }
}

/** Removes a picture's or merge's files. */
export function removeFiles(folder: DataFolder, id: string): void {
  for (const path of [
    folder.original(id),
    folder.tiles(id),
    folder.icc(id),
    folder.labels(id),
    folder.look(id),
    folder.thumb(id),
  ]) {
    if (existsSync(path)) rmSync(path, { force: true });
  }
}
