// Temporary folders of the command line: removed at the end, on an interrupt, and, after a kill, by the next run.
import { mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';

const PREFIX = '.blendrak-run-';
const OWNER = 'owner.json';
const ownerSchema = z.strictObject({
  format: z.literal('blendrak-workspace'),
  pid: z.number().int(),
  /** When the process began, as the system counts it; null where it does not say. */
  began: z.string().nullable(),
});

/** What is to be removed when the command is interrupted. */
const UNFINISHED = new Set<string>();

/** Keeps in mind that a path is to go if the command ends early; returns how to forget it. */
export function removeIfInterrupted(path: string): () => void {
  UNFINISHED.add(path);
  return () => UNFINISHED.delete(path);
}

/**
 * A temporary folder for one run; removed with everything in it.
 * @param parent folder to make it in; default: the system's temporary folder
 */
export async function withWorkspace<T>(work: (folder: string) => Promise<T>, parent = temporary()): Promise<T> {
  sweepWorkspaces(parent);
  const folder = mkdtempSync(join(parent, PREFIX));
  const owner: z.infer<typeof ownerSchema> = {
    format: 'blendrak-workspace',
    pid: process.pid,
    began: began(process.pid),
  };
  // By a rename, so that whoever sees the note sees it whole.
  writeFileSync(join(folder, `${OWNER}.part`), JSON.stringify(owner));
  renameSync(join(folder, `${OWNER}.part`), join(folder, OWNER));
  const forget = removeIfInterrupted(folder);
  try {
    return await work(folder);
  } finally {
    removeAll(folder);
    forget();
  }
}

/** Whether an entry of a folder is a workspace of a command that still runs. */
export function isWorkspace(name: string): boolean {
  return name.startsWith(PREFIX);
}

/** On an interrupt or a polite kill: removes what is unfinished and ends, as a shell expects it. */
export function tidyWhenInterrupted(): void {
  for (const [signal, code] of [
    ['SIGINT', 130],
    ['SIGTERM', 143],
    ['SIGHUP', 129],
  ] as const) {
    // Told again meanwhile, it goes on tidying: without a listener the second signal would end it at once.
    process.on(signal, () => {
      UNFINISHED.forEach(removeAll);
      process.stderr.write('blendrak: interrupted; nothing was written.\n');
      process.exit(code);
    });
  }
}

/** Removes workspaces whose process is gone: ours by the note in them, and nothing else. */
function sweepWorkspaces(parent: string): void {
  for (const name of readdirSync(parent).filter(isWorkspace)) {
    const folder = join(parent, name);
    const owner = ownerOf(folder);
    if (owner && !isAlive(owner)) removeAll(folder);
  }
}

function ownerOf(folder: string): z.infer<typeof ownerSchema> | null {
  try {
    if (statSync(folder).uid !== process.getuid?.()) return null;
    const known = ownerSchema.safeParse(JSON.parse(readFileSync(join(folder, OWNER), 'utf8')));
    return known.success ? known.data : null;
  } catch {
    // Somebody else's, just made, or just removed: not ours to judge.
    return null;
  }
}

/** The same process, not another one that was given its number since. */
function isAlive(owner: z.infer<typeof ownerSchema>): boolean {
  try {
    process.kill(owner.pid, 0);
  } catch {
    return false;
  }
  return owner.began === null || began(owner.pid) === owner.began;
}

function began(pid: number): string | null {
  try {
    // The 22nd field; names in the second may hold spaces.
    return readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1)!.split(' ')[19] ?? null;
  } catch {
    return null;
  }
}

function removeAll(path: string): void {
  // Threads may still be writing: files that appear meanwhile are removed, too.
  rmSync(path, { recursive: true, force: true, maxRetries: 5, retryDelay: 40 });
}

function temporary(): string {
  return process.env['BLENDRAK_TMP'] ?? tmpdir();
}
