// Pictures laid on each other, and how their tones lie to each other.
import sharp from 'sharp';
import { similarityGeometry } from '@blendrak/core/frame';
import { evaluateTone, IDENTITY_TONE, type Plane } from '@blendrak/core/image';
import { samplePlane, waveTexture } from '../../../../../packages/core/src/testing/pictures';
import { temporaryFolder } from '../../testing/inProcess';
import { W, H, SHIFT, texture, type Stored, storeIn } from '../../testing/storedTextures';
import type { TileSource } from '../protocol';
import { pointsTask, relateTask } from './alignPanorama';
import { greyMixTask, lightGainTask, placeTask, registerTask, toneTask } from './registerPictures';
import { tileTask } from './renderTile';

const { path: root, clean } = temporaryFolder();
afterAll(clean);

const { store, storeColours, three } = storeIn(root);
let base: Stored;
let moved: Stored;
let dim: Stored;
beforeAll(async () => {
  ({ base, moved, dim } = await three());
});

describe('laying pictures on each other', () => {
  it('finds how far one was moved within 0.1 px, and that one moved nowhere stays', () => {
    const found = registerTask({ reference: base, moving: moved });
    expect(Math.abs(found.toMoving.tx + SHIFT.x)).toBeLessThan(0.1);
    expect(Math.abs(found.toMoving.ty + SHIFT.y)).toBeLessThan(0.1);
    expect(found.correlation).toBeGreaterThan(0.8);
    const still = registerTask({ reference: base, moving: dim });
    expect(Math.hypot(still.toMoving.tx, still.toMoving.ty)).toBeLessThan(0.1);
  });

  it('finds a frame in a merge of its size', () => {
    const placed = placeTask({ frame: moved, merge: base });
    expect(Math.abs(placed.toMoving.tx + SHIFT.x)).toBeLessThan(0.3);
    expect(Math.abs(placed.toMoving.re - 1)).toBeLessThan(2e-3);
  });

  it('tells how much darker one is, in light and as a tone curve', () => {
    const same = { re: 1, im: 0, tx: 0, ty: 0 };
    const gain = lightGainTask({ source: dim, target: base, sourceToTarget: same });
    // Encoded 0.7 of the value is about 0.7 to the power of 2.2 of the light.
    for (const g of gain) expect(Math.abs(Math.log2(g) - 2.2 * Math.log2(1 / 0.7))).toBeLessThan(0.25);
    const tone = toneTask({ frame: dim, merge: base, isExposure: false });
    for (const v of [0.25, 0.4, 0.5]) expect(Math.abs(evaluateTone(tone[1], v) - v / 0.7)).toBeLessThan(0.02);
  });

  it('beside a merge that was made black and white a frame is seen in the same mix and tone', async () => {
    const colours = [21, 22, 23].map((seed) => {
      const own = waveTexture(seed, 40);
      return samplePlane(W, H, (x, y) => 0.12 + 0.35 * texture(x, y) + 0.35 * own(x, y));
    }) as [Plane, Plane, Plane];
    const mix = [0.65, 0.25, 0.1];
    const data = colours[0].data.map(
      (_, i) => 0.05 + 0.9 * mix.reduce((sum, w, c) => sum + w * colours[c]!.data[i]!, 0),
    );
    const frame = await storeColours('colours', colours);
    const merge = await store('black and white', { width: W, height: H, data });
    const grey = greyMixTask({ frame, merge })!;
    mix.forEach((w, c) => expect(Math.abs(grey[c]! - w)).toBeLessThan(0.03));
    const tone = toneTask({ frame: { ...frame, grey }, merge, isExposure: false });
    const tile = { region: { x: 60, y: 60, width: 64, height: 64 }, width: 64, height: 64, format: 'png' as const };
    const pixels = async (source: TileSource): Promise<Buffer> =>
      sharp(await tileTask({ source, tile, icc: null }))
        .raw()
        .toBuffer();
    const shown = await pixels({ kind: 'frame', frame: { ...frame, grey, tone } });
    const wanted = await pixels({ kind: 'picture', tiles: merge.tiles });
    expect(Math.max(...shown.map((v, i) => Math.abs(v - wanted[i]!)))).toBeLessThanOrEqual(4);
    // Without the mix no tone curve makes one of the other.
    const coloured = await pixels({
      kind: 'frame',
      frame: { ...frame, tone: toneTask({ frame, merge, isExposure: false }) },
    });
    expect(Math.max(...coloured.map((v, i) => Math.abs(v - wanted[i]!)))).toBeGreaterThan(15);
    expect(greyMixTask({ frame: merge, merge: frame })).toBeNull();
  });

  it('a frame that the merge hardly shows says nothing of its tone', () => {
    const away = { ...dim, geometry: similarityGeometry({ re: 1, im: 0, tx: 5000, ty: 0 }) };
    expect(toneTask({ frame: away, merge: base, isExposure: false })).toBe(IDENTITY_TONE);
  });

  it('corners are found mirrored in a mirrored picture, and relate frames that share them', () => {
    const points = pointsTask({ picture: base });
    const mirrored = pointsTask({ picture: base, mirrored: true });
    expect(points.length).toBeGreaterThan(30);
    const near = points.filter((p) =>
      mirrored.some((q) => Math.hypot(W - q.x - p.x, q.y - p.y) < 1.5 && q.factor === p.factor),
    );
    expect(near.length).toBeGreaterThan(0.8 * points.length);
    const size = { width: W, height: H };
    const frames = [
      { points, size },
      { points: pointsTask({ picture: moved }), size },
      { points: mirrored, size },
    ];
    const [shared, nothing] = relateTask({
      frames,
      pairs: [
        [0, 1],
        [0, 2],
      ],
      focalPx: [900],
      guided: false,
    });
    expect(shared!.places.length).toBeGreaterThan(20);
    for (const [x, y, u, v] of shared!.places) expect(Math.hypot(x - SHIFT.x - u, y - SHIFT.y - v)).toBeLessThan(4);
    expect(nothing).toBeNull();
  });
});
