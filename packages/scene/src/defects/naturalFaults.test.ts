// What a panorama shows wrong where its frames meet, without anybody seeding it.
import { naturalFaults } from './naturalFaults';
import type { Survey } from './survey';

const [WIDTH, HEIGHT] = [40, 20];
const SIZE = WIDTH * HEIGHT;
const flat = (value: number): Float32Array => new Float32Array(SIZE).fill(value);

/** Two frames that meet in the middle; the right one misses the ideal by `error` in a row of cells, as a doubled cable would. */
function surveyOf(error: number, row: number, kind: 'panorama' | 'bracket' = 'panorama'): Survey {
  const doubled = flat(1e-6);
  for (let x = 0; x < WIDTH; x++) doubled[row * WIDTH + x] = error;
  const nothing = [flat(0), flat(0)];
  return {
    // Only its kind is looked at where nothing is near.
    plan: { kind } as Survey['plan'],
    grid: { width: WIDTH, height: HEIGHT },
    errors: [flat(1e-6), doubled],
    covers: [new Uint8Array(SIZE).fill(1), new Uint8Array(SIZE).fill(1)],
    ...{ clipped: nothing, moving: nothing, dust: nothing },
    ...{ depthMm: flat(1e6), thingMm: flat(0), detail: flat(0.01), fringe: flat(0), clippedEverywhere: flat(0) },
  };
}

const labels = Uint8Array.from({ length: SIZE }, (_, c) => (c % WIDTH < WIDTH / 2 ? 0 : 1));
const faintAt = (survey: Survey): number[] => {
  const { faint } = naturalFaults(survey, survey, labels, new Uint8Array(SIZE));
  return Array.from(faint.keys()).filter((c) => faint[c]);
};

const inRow = (row: number) => (cell: number) => Math.floor(cell / WIDTH) === row;

it('frames that visibly differ where they meet are known to break there, on both sides', () => {
  const marked = faintAt(surveyOf(0.01, 8)).filter((c) => !inRow(8)(c));
  const [xs, ys] = [marked.map((c) => c % WIDTH), marked.map((c) => Math.floor(c / WIDTH))];
  expect([Math.min(...ys), Math.max(...ys)]).toEqual([6, 10]);
  // Two cells to either side of the border, and two more around.
  expect([Math.min(...xs), Math.max(...xs)]).toEqual([16, 23]);
});

it('what the shown frame shows worse than a sharp one is known, where it is shown', () => {
  const marked = faintAt(surveyOf(0.01, 8)).filter(inRow(8)).map((c) => c % WIDTH); // prettier-ignore
  expect([Math.min(...marked), Math.max(...marked), marked.length]).toEqual([16, WIDTH - 1, WIDTH - 16]);
});

it('what cannot be seen is not known to break, nor is anything in a bracket', () => {
  expect(faintAt(surveyOf(1e-5, 8))).toEqual([]);
  expect(faintAt(surveyOf(0.01, 8, 'bracket'))).toEqual([]);
});
