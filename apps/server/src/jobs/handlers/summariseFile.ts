// Tasks of sorting: `summarise`, what it wants to know of a file, from a reduced decode; `expand`, files that hold several
// pictures; `group`, sets and their checks; `checkSet`, one set as put together by hand.
import { createHash } from 'node:crypto';
import { readFileSync, readSync, writeFileSync } from 'node:fs';
import { deserialize, serialize } from 'node:v8';
import {
  checkSet,
  groupFrames,
  labelFrames,
  summariseFrame,
  overlapWithNext,
  type ProposedSet,
  type SortFrame,
} from '@blendrak/core/sort';
import { decodeSmall, expandFile, inspectPicture, readExif, writeThumbnail } from '../../codecs';
import { withDescriptor } from '../../shared/withDescriptor';
import type { TaskRequest, TaskResponse } from '../protocol';

/** Enough for sharpness and shake; a JPEG unpacks to it in a fraction of the time. */
const LOOK_PX = 2048;

export async function summariseTask({
  path,
  name,
  out,
  thumb,
}: TaskRequest<'summarise'>): Promise<TaskResponse<'summarise'>> {
  const info = await inspectPicture(path, name);
  const exif = await readExif(path);
  const { data, width, height } = await decodeSmall(path, LOOK_PX, name);
  if (thumb) await writeThumbnail(data, width, height, thumb);
  const seen: SortFrame = {
    name,
    width: info.width,
    height: info.height,
    bits: info.bits,
    profile: info.profileName,
    settings: {
      takenS: exif?.takenAt ? Date.parse(exif.takenAt) / 1000 : null,
      camera: exif?.camera ?? null,
      lens: exif?.lens ?? null,
      focalLengthMm: exif?.focalLengthMm ?? null,
      focalLength35Mm: exif?.focalLength35Mm ?? null,
      fNumber: exif?.fNumber ?? null,
      exposureS: exif?.exposureS ?? null,
      iso: exif?.iso ?? null,
      focusMm: exif?.focusDistanceM ? exif.focusDistanceM * 1000 : null,
      whiteBalance: exif?.whiteBalance ?? null,
    },
    summary: summariseFrame(data, width, height),
  };
  writeFileSync(out, serialize(seen));
  return { digest: digestOf(path), exif };
}

const PIECE_BYTES = 1 << 20;

function digestOf(path: string): string {
  const hash = createHash('sha256');
  const piece = Buffer.alloc(PIECE_BYTES);
  withDescriptor(path, (fd) => {
    for (let n = readSync(fd, piece); n > 0; n = readSync(fd, piece)) hash.update(piece.subarray(0, n));
  });
  return hash.digest('hex');
}

export function expandTask({ path, name, folder }: TaskRequest<'expand'>): Promise<TaskResponse<'expand'>> {
  return expandFile(path, name, folder);
}

/** What `summarise` saw of files. */
function readSummaries(paths: readonly string[]): SortFrame[] {
  return paths.map((path) => deserialize(readFileSync(path)) as SortFrame);
}

export function groupTask({ summaries }: TaskRequest<'group'>): TaskResponse<'group'> {
  const frames = readSummaries(summaries);
  const sorting = groupFrames(frames);
  return {
    sorting,
    checks: sorting.sets.map((set) => checkSet(frames, set)),
    labels: sorting.sets.map((set) => labelFrames(frames, set)),
    overlaps: sorting.sets.map((set) => overlapWithNext(frames, set)),
  };
}

export function checkSetTask({ summaries, kind }: TaskRequest<'checkSet'>): TaskResponse<'checkSet'> {
  const frames = readSummaries(summaries);
  const all = frames.map((_, k) => k);
  const set: ProposedSet = {
    kind,
    frames: all,
    nested: [],
    places: null,
    order: 'unknown',
    why: '',
    confidence: 1,
  };
  return { checks: checkSet(frames, set), overlaps: overlapWithNext(frames, set) };
}
