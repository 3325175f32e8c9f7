// A first look at a small picture: told before the whole is looked at, in px of the merge, and only where the whole takes long.
import { addNoise, blockTexture, gaussianBlur } from '../../../../packages/core/src/testing/pictures';
import { openPool, type RunTask } from '../jobs';
import { temporaryFolder } from '../testing/inProcess';
import { storePlaced, writePlane } from '../testing/placedPictures';
import { inspectMerge, type FirstSeen } from './index';
import type { StepContext } from './types';

const H = 320;
const PATCH = { x: 600, y: 40, width: 420, height: 220 };
const { path, clean } = temporaryFolder();
const pool = openPool();
afterAll(async () => {
  await pool.close();
  clean();
});

/** Looks at two frames, the second one out of focus, whose merge shows the second in a patch. */
async function look(W: number) {
  const said: (string | FirstSeen)[] = [];
  const steps: StepContext = {
    ...{ run: pool.run as RunTask, parallel: pool.threads },
    onProgress: (_share, message) => void said.push(message),
  };
  const store = async (name: string, plane: ReturnType<typeof blockTexture>) =>
    storePlaced(steps.run, path, `${name}-${W}`, await writePlane(path, `${name}-${W}`, plane));
  const texture = blockTexture(W, H, 7);
  const near = addNoise(gaussianBlur(texture, 0.6), 0.004, 1);
  const far = addNoise(gaussianBlur(texture, 12), 0.004, 2);
  const isIn = (x: number, y: number): boolean =>
    x >= PATCH.x && y >= PATCH.y && x < PATCH.x + PATCH.width && y < PATCH.y + PATCH.height;
  const data = near.data.map((v, i) => (isIn(i % W, Math.floor(i / W)) ? far.data[i]! : v));
  const frames = [await store('near', near), await store('far', far)];
  const merge = await store('merge', { ...near, data });
  const onFirst = (seen: FirstSeen): void => void said.push(seen);
  const inspection = await inspectMerge({ kind: 'focus-stack', merge, width: W, height: H, frames, onFirst }, steps);
  return { said, inspection };
}

it('of a large merge its patch is told early, at about the place where the whole finds it', async () => {
  const { said, inspection } = await look(4096);
  const at = said.findIndex((s) => typeof s !== 'string');
  const seen = said[at] as FirstSeen;
  expect(said.findIndex((s) => typeof s === 'string' && s.startsWith('inspected part'))).toBeGreaterThan(at);
  expect([seen.width, seen.height]).toEqual([4096, H]);
  expect(seen.findings.map((f) => f.defect)).toEqual(['soft-patch']);
  const [first, whole] = [seen.findings[0]!.bbox, inspection.findings[0]!.detection.bbox];
  for (const box of [first, whole]) {
    expect(Math.abs(box.x - PATCH.x)).toBeLessThan(80);
    expect(Math.abs(box.y - PATCH.y)).toBeLessThan(80);
    expect(Math.abs(box.width - PATCH.width)).toBeLessThan(160);
    expect(Math.abs(box.height - PATCH.height)).toBeLessThan(160);
  }
  expect(inspection.facts.working.unitPx).toBe(1);
});

it('a small merge is looked at once', async () => {
  const { said } = await look(1100);
  expect(said.every((s) => typeof s === 'string')).toBe(true);
});
