// Tasks of sorting: `look`, what it wants to know of a file, from a reduced decode; `group`, sets and
// their checks; `checkSet`, one set as put together by hand.
import { checkSet, groupFrames, labelFrames, lookAt, overlapWithNext, type ProposedSet } from '@blendrak/core/sort';
import { decodeSmall, inspectPicture, readExif, writeThumbnail } from '../../codecs';
import type { TaskRequest, TaskResponse } from '../protocol';

/** Enough for sharpness and shake; a JPEG unpacks to it in a fraction of the time. */
const LOOK_PX = 2048;

export async function lookTask({ path, name, thumb }: TaskRequest<'look'>): Promise<TaskResponse<'look'>> {
  const info = await inspectPicture(path, name);
  const exif = await readExif(path);
  const { data, width, height } = await decodeSmall(path, LOOK_PX, name);
  if (thumb) await writeThumbnail(data, width, height, thumb);
  return {
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
    look: lookAt(data, width, height),
  };
}

export function groupTask({ frames }: TaskRequest<'group'>): TaskResponse<'group'> {
  const sorting = groupFrames(frames);
  return {
    sorting,
    checks: sorting.sets.map((set) => checkSet(frames, set)),
    labels: sorting.sets.map((set) => labelFrames(frames, set)),
    overlaps: sorting.sets.map((set) => overlapWithNext(frames, set)),
  };
}

export function checkSetTask({ frames, kind }: TaskRequest<'checkSet'>): TaskResponse<'checkSet'> {
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
