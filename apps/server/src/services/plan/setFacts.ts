// What the files of a job and their alignment tell about how a set was really shot.
import type { SetFacts } from '@blendrak/core/plan';
import { pictureInfo } from '../../storage';
import type { Services } from '../context';

export function factsOf({ storage, merges }: Services, jobId: string): SetFacts {
  const frames = storage.pictures.listByJob(jobId).filter((p) => p.role === 'frame');
  const exifs = frames.map((p) => pictureInfo(p)?.exif ?? null);
  const known = (pick: (exif: NonNullable<(typeof exifs)[number]>) => number | null): number[] =>
    exifs.flatMap((exif) => {
      const value = exif && pick(exif);
      return value === null ? [] : [value];
    });
  const merge = storage.merges.headOf(jobId);
  const placed = merge ? merges.body(merge.id).frames : [];
  return {
    frames: frames.length,
    focusMm: known((e) => (e.focusDistanceM === null ? null : e.focusDistanceM * 1000)),
    exposuresS: known((e) => e.exposureS),
    fNumbers: known((e) => e.fNumber),
    focalLengthsMm: known((e) => e.focalLengthMm),
    // Area covered by every frame at least this much: the side shrinks with its root.
    lostMargin: placed.length > 0 ? 1 - Math.sqrt(Math.min(...placed.map((f) => f.coverage))) : null,
    neighbourShift: [],
  };
}
