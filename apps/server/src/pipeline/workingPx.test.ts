// A set that is soft at the pixel, as if enlarged: inspected in larger px, told in those of the merge, and looked at again in them.
import type { Plane } from '@blendrak/core/image';
import type { Operation } from '@blendrak/core/repair';
import { addNoise, blockTexture, gaussianBlur } from '../../../../packages/core/src/testing/pictures';
import { openPool, type RunTask } from '../jobs';
import { temporaryFolder } from '../testing/inProcess';
import { storePlaced, writePlane } from '../testing/placedPictures';
import { inspectMerge, type Inspection } from './index';
import type { PlacedFrame, StepContext } from './types';
import { workingPxOf } from './workingPx';

const [W, H] = [1664, 448];
const PATCH = { x: 800, y: 152, width: 176, height: 136 };
const EVEN_FROM = 1250;
const { path, clean } = temporaryFolder();
const pool = openPool();
afterAll(async () => {
  await pool.close();
  clean();
});
const steps: StepContext = { run: pool.run as RunTask, parallel: pool.threads, onProgress: () => undefined };

const store = async (name: string, plane: Plane): Promise<PlacedFrame> =>
  storePlaced(steps.run, path, name, await writePlane(path, name, plane));

const isIn = (x: number, y: number): boolean =>
  x >= PATCH.x && y >= PATCH.y && x < PATCH.x + PATCH.width && y < PATCH.y + PATCH.height;

/** The merge and two frames, the second one farther out of focus; the merge shows it in a patch. */
async function set(sharpest: number): Promise<{ merge: PlacedFrame; frames: PlacedFrame[] }> {
  const blocks = blockTexture(W, H, 7);
  // Something even is in every photograph: there noise is told from texture.
  const texture = { ...blocks, data: blocks.data.map((v, i) => (i % W > EVEN_FROM ? 0.2 + (0.6 * i) / (W * H) : v)) };
  const near = addNoise(gaussianBlur(texture, sharpest), 0.004, 1);
  const far = addNoise(gaussianBlur(texture, sharpest + 4), 0.004, 2);
  const data = near.data.map((v, i) => (isIn(i % W, Math.floor(i / W)) ? far.data[i]! : v));
  const named = (what: string): string => `${what}-${sharpest}`;
  const frames = [await store(named('near'), near), await store(named('far'), far)];
  return { merge: await store(named('merge'), { ...near, data }), frames };
}

it('a set that is sharp at the pixel is looked at as it is', async () => {
  const { frames } = await set(0.6);
  const whole = { x: 0, y: 0, width: W, height: H };
  expect(await workingPxOf(frames, whole, steps)).toEqual({ unitPx: 1, noiseShare: 1 });
});

describe('a set that is soft at the pixel', () => {
  let inspection: Inspection;
  let soft: { merge: PlacedFrame; frames: PlacedFrame[] };
  beforeAll(async () => {
    soft = await set(2);
    inspection = await inspectMerge(
      { kind: 'focus-stack', merge: soft.merge, width: W, height: H, frames: soft.frames },
      steps,
    );
  });

  it('is inspected in px of two, with the noise that these have; maps are those of the merge', () => {
    const { working } = inspection.facts;
    expect(working.unitPx).toBe(2);
    // White noise: the mean of four px has a quarter of it, and rounding to 8 bits is not averaged away.
    expect(working.noiseShare).toBeGreaterThan(0.18);
    expect(working.noiseShare).toBeLessThan(0.5);
    expect([inspection.width, inspection.height]).toEqual([W / 4, H / 4]);
    const at = (x: number, y: number): number => inspection.explanation.closest[(y / 4) * (W / 4) + x / 4]!;
    expect([at(888, 220), at(400, 220)]).toEqual([1, 0]);
  });

  it('its soft patch is told in px of the merge, with the frame that has it sharp', () => {
    expect(inspection.findings.map((f) => f.detection.defect)).toEqual(['soft-patch']);
    const { detection, traced } = inspection.findings[0]!;
    const { bbox } = detection;
    expect(Math.abs(bbox.x - PATCH.x)).toBeLessThan(25);
    expect(Math.abs(bbox.y - PATCH.y)).toBeLessThan(25);
    expect(Math.abs(bbox.width - PATCH.width)).toBeLessThan(50);
    expect(Math.abs(bbox.height - PATCH.height)).toBeLessThan(50);
    const inside = detection.cells.filter((i) => isIn(4 * (i % (W / 4)), 4 * Math.floor(i / (W / 4)))).length;
    expect(inside).toBeGreaterThan(0.7 * detection.cells.length);
    expect(traced).toMatchObject({ donor: 0, repairable: true });
  });

  it('the place is looked at again in the same px: it is still there, and gone once it is painted over', async () => {
    const { facts, yardsticks, findings } = inspection;
    const region = findings[0]!.detection.bbox;
    const shape = { kind: 'outline' as const, points: corners(60), growPx: 0, featherPx: 4, strength: 1 };
    const look = (operations: readonly Operation[]) =>
      pool.run('recheck', { scene: { ...soft, operations }, facts, yardsticks, region });
    const still = await look([]);
    expect(still.map((d) => d.defect)).toEqual(['soft-patch']);
    const share = still[0]!.cells.length / findings[0]!.detection.cells.length;
    expect(share).toBeGreaterThan(0.7);
    expect(share).toBeLessThan(1.3);
    expect(await look([{ donor: 0, shape }])).toEqual([]);
  });
});

/** The patch's corners, so many px farther out. */
function corners(by: number): [number, number][] {
  const { x, y, width, height } = PATCH;
  const [left, top, right, bottom] = [x - by, y - by, x + width + by, y + height + by];
  return [[left, top], [right, top], [right, bottom], [left, bottom]]; // prettier-ignore
}
