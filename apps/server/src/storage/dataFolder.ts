// Where things lie in the data folder, and what is done with files that no row names.
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statfsSync } from 'node:fs';
import { basename, join, relative, sep } from 'node:path';

export interface DataFolder {
  readonly root: string;
  readonly database: string;
  readonly reserve: string;
  /** Of this run: uploads and pictures that are not complete yet. On the same disk as the rest. */
  readonly scratch: string;
  /** A new path in the scratch folder. */
  scratchFile(ending?: string): string;
  original(pictureId: string): string;
  tiles(id: string): string;
  icc(id: string): string;
  labels(id: string): string;
  /** What sorting knows of a card's file, and its thumbnail. */
  summary(id: string): string;
  thumb(id: string): string;
  /** A picture rendered to be taken away, by the work that made it. */
  exported(workId: string): string;
  /** Files that the simulated camera delivered for a job. */
  delivered(jobId: string): string;
  /** Where deliveries as folders lie: they are the user's, and never removed. */
  readonly deliveries: string;
  freeBytes(): number;
}

/** Folders of files that belong to rows, and the endings of their names. */
const KEPT = [
  ['originals', /$/],
  ['tiles', /\.(tiles|icc|labels)$/],
  ['exports', /$/],
  ['looks', /\.(summary|look|jpg)$/],
] as const;
const ASIDE = 'set-aside';

/**
 * Paths in a claimed data folder.
 * @param run names this run's scratch folder
 */
export function dataFolder(root: string, run: string): DataFolder {
  let count = 0;
  const scratch = join(root, 'scratch', run);
  return {
    root,
    database: join(root, 'blendrak.sqlite'),
    reserve: join(root, 'blendrak.reserve'),
    scratch,
    scratchFile: (ending = '') => join(scratch, `${++count}${ending}`),
    original: (id) => join(root, 'originals', id),
    tiles: (id) => join(root, 'tiles', `${id}.tiles`),
    icc: (id) => join(root, 'tiles', `${id}.icc`),
    labels: (id) => join(root, 'tiles', `${id}.labels`),
    summary: (id) => join(root, 'looks', `${id}.summary`),
    exported: (id) => join(root, 'exports', id),
    thumb: (id) => join(root, 'looks', `${id}.jpg`),
    deliveries: process.env['BLENDRAK_DELIVERIES'] ?? join(root, 'deliveries'),
    delivered: (jobId) => join(root, 'cards', jobId),
    freeBytes: () => {
      const s = statfsSync(root);
      return s.bavail * s.bsize;
    },
  };
}

export function makeFolders(folder: DataFolder): void {
  for (const [name] of KEPT) mkdirSync(join(folder.root, name), { recursive: true });
  mkdirSync(folder.scratch, { recursive: true });
}

/** Files that no row names, as paths relative to the data folder. */
export function findOrphans(folder: DataFolder, knownIds: ReadonlySet<string>, jobIds: ReadonlySet<string>): string[] {
  const inside = (name: string): string[] => {
    const path = join(folder.root, name);
    return existsSync(path) ? readdirSync(path).map((file) => join(name, file)) : [];
  };
  return [
    ...KEPT.flatMap(([name, ending]) =>
      inside(name).filter((file) => !knownIds.has(basename(file).replace(ending, ''))),
    ),
    ...inside('scratch').filter((file) => join(folder.root, file) !== folder.scratch),
    // Where uploads arrived in earlier versions.
    ...inside('incoming'),
    ...inside('cards').filter((file) => !jobIds.has(basename(file))),
  ];
}

/**
 * Moves files out of the way, never removes them: they may be somebody's only copy.
 * @param files relative to the data folder
 * @returns the folder they are in now
 */
export function setAside(folder: DataFolder, files: readonly string[], day: string): string {
  const to = join(folder.root, ASIDE, day);
  for (const file of files) {
    const [place, name] = [file.split(sep)[0]!, basename(file)];
    mkdirSync(join(to, place), { recursive: true });
    let target = join(to, place, name);
    for (let n = 2; existsSync(target); n++) target = join(to, place, `${n} ${name}`);
    renameSync(join(folder.root, file), target);
  }
  return to;
}

/** All that lies in the data folder of pictures, merges and files of cards, relative to it. */
export function pathsOf(folder: DataFolder, ids: readonly string[]): string[] {
  const { original, tiles, icc, labels, summary, thumb, exported } = folder;
  return ids.flatMap((id) =>
    [original, tiles, icc, labels, summary, thumb, exported].map((path) => relative(folder.root, path(id))),
  );
}

/** Removes what is named, relative to the data folder; what is not there is no trouble. */
export function removePaths(folder: DataFolder, paths: readonly string[]): void {
  for (const path of paths) rmSync(join(folder.root, path), { recursive: true, force: true });
}
