// What has to be shot anew, in the units of the camera: the missing slices, exposures or directions.
import type { Finding } from '@blendrak/contract';
import { pictureInfo, type MergeBody } from '../../storage';
import type { Services } from '../context';

/**
 * Lists what is to be shot for the findings that ask for it.
 * @returns sentences, each with the place to focus on, the exposure or the frame; without those that say the same
 */
export function reshootList(
  { storage }: Pick<Services, 'storage'>,
  body: MergeBody,
  findings: readonly Finding[],
): string[] {
  const wanted = findings.filter((f) => f.decision === 'reshoot');
  return [...new Set(wanted.map((finding) => wordsFor(storage, body, finding)))];
}

function wordsFor(storage: Services['storage'], body: MergeBody, finding: Finding): string {
  const { defect, measurements, frames } = finding;
  const name = (k: number): string => body.frames[k]?.fileName ?? `frame ${k + 1}`;
  const exif = (k: number) => {
    const row = storage.pictures.find(body.frames[k]?.pictureId ?? '');
    return row ? (pictureInfo(row)?.exif ?? null) : null;
  };
  if (defect === 'focus-gap') {
    const before = measurements['frameBefore']?.value ?? -1;
    const distances = body.frames.map((_, k) => exif(k)?.focusDistanceM ?? null);
    return gapWords(before, distances, name);
  }
  const shown = frames.reduce((best, f, k) => (f.shownShare > (frames[best]?.shownShare ?? 0) ? k : best), 0);
  if (defect === 'clipping') {
    const exposure = exif(shown)?.exposureS;
    const darker = exposure ? `: ${exposureWords(exposure / 4)} instead of ${exposureWords(exposure)}` : '';
    return `One exposure two stops darker than ${name(shown)}${darker}.`;
  }
  return `${name(shown)} again, from the same place with the same settings: it shows a ${defect.replaceAll('-', ' ')}.`;
}

/** The slice that is missing, by distances where the files tell them: half way between two in dioptres, where focus steps are even. */
function gapWords(before: number, distances: readonly (number | null)[], name: (k: number) => string): string {
  const last = distances.length - 1;
  const [first, second] = before < 0 ? [0, 1] : before >= last ? [last, last - 1] : [before, before + 1];
  const [a, b] = [distances[first], distances[second]];
  const isBeyond = before < 0 || before >= last;
  const place = isBeyond ? `one step beyond ${name(first)}` : `between ${name(first)} and ${name(second)}`;
  if (!a || !b) return `A slice ${place}.`;
  const dioptres = isBeyond ? 2 / a - 1 / b : (1 / a + 1 / b) / 2;
  const at = dioptres <= 0 ? 'at infinity' : `at ${distanceWords(1 / dioptres)}`;
  return `A slice ${place}: focus ${at}.`;
}

function distanceWords(metres: number): string {
  return metres < 1 ? `${(metres * 100).toFixed(1)} cm` : `${metres.toFixed(2)} m`;
}

function exposureWords(seconds: number): string {
  return seconds >= 0.4 ? `${seconds.toFixed(1)} s` : `1/${Math.round(1 / seconds)} s`;
}
