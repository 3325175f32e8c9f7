// What is to be shot again, in the units of the camera: against dioptres and stops worked out by hand.
import { join } from 'node:path';
import type { Finding } from '@blendrak/contract';
import { localServices, temporaryFolder } from '../../testing/inProcess';
import { plainFinding, recordMerge } from '../../testing/plainMerge';
import { reshootList } from './reshootList';

const { path, clean } = temporaryFolder();
const services = localServices(join(path, 'data'));
afterAll(async () => {
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

/** Three frames focused at 1 m, 0.5 m and 0.4 m, exposed for 1/60 s; or without any settings in their files. */
function merged(id: string, hasSettings: boolean) {
  recordMerge(services, id);
  [1, 0.5, 0.4].forEach((focusDistanceM, k) =>
    services.storage.pictures.markReady(`${id}x${k}`, {
      ...{ width: 1024, height: 1024, bits: 8, profile: null, noise: [1e-5] },
      exif: hasSettings
        ? {
            ...{ camera: null, lens: null, takenAt: null, exposureS: 1 / 60, fNumber: 8, focalLengthMm: 90, iso: 100 },
            ...{ focusDistanceM, focalLength35Mm: null, whiteBalance: null },
          }
        : null,
    }),
  );
  return services.merges.body(id);
}
const findingOf = (part: Partial<Finding>): Finding => ({
  ...plainFinding('m', 'f'),
  decision: 'reshoot',
  frames: [0, 1, 2].map((k) => ({
    ...{ sharpness: 1, difference: 0, predictedError: 0, coverage: 1 },
    shownShare: k === 1 ? 0.9 : 0.05,
  })),
  ...part,
});
const gap = (before: number): Finding =>
  findingOf({ defect: 'focus-gap', measurements: { frameBefore: { value: before, unit: 'index' } } });

it('a missing slice lies half way in dioptres, and one beyond an end goes on by a step', () => {
  const body = merged('named', true);
  const list = (finding: Finding): string => reshootList(services, body, [finding])[0]!;
  // 1 and 2 dioptres: 1.5, which is 66.7 cm.
  expect(list(gap(0))).toBe('A slice between frame1.png and frame2.png: focus at 66.7 cm.');
  // 2 and 2.5 dioptres: the next is 3.
  expect(list(gap(2))).toBe('A slice one step beyond frame3.png: focus at 33.3 cm.');
  // Before 1 dioptre, a step of 1: nothing is farther.
  expect(list(gap(-1))).toBe('A slice one step beyond frame1.png: focus at infinity.');
});

it('of files that name no distance only the place in the series is told', () => {
  expect(reshootList(services, merged('nameless', false), [gap(1)])).toEqual([
    'A slice between frame2.png and frame3.png.',
  ]);
});

it('what is burnt needs two stops less; other faults the frame again; what needs no reshoot is left out', () => {
  const body = merged('burnt', true);
  const again = findingOf({ defect: 'ghost' });
  expect(
    reshootList(services, body, [findingOf({ defect: 'clipping' }), again, again, findingOf({ decision: 'accepted' })]),
  ).toEqual([
    'One exposure two stops darker than frame2.png: 1/240 s instead of 1/60 s.',
    'frame2.png again, from the same place with the same settings: it shows a ghost.',
  ]);
});
