// Tasks as the threads run them, here from source: pictures stored, laid on each other, toned, shown and taken away.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { tiltOf, turnedPlace } from '@blendrak/core/finish';
import { SAME_PLACE, similarityGeometry } from '@blendrak/core/frame';
import { evaluateTone, IDENTITY_TONE, noiseAt, type Plane } from '@blendrak/core/image';
import {
  addNoise,
  greyPixels,
  makeRandom,
  samplePlane,
  waveTexture,
} from '../../../../../packages/core/src/testing/pictures';
import { shapeRegion, type MaskShape } from '@blendrak/core/repair';
import { openTileFile } from '../../codecs';
import { temporaryFolder } from '../../testing/inProcess';
import { paintStroke } from '../../testing/paint';
import type { InspectionScene, PlacedPicture, TileSource } from '../protocol';
import { beginTiffTask, convertTiffTask, renderRowsTask } from './exportTiff';
import { edgesTask, layerPngTask } from './finishPicture';
import { fitMaskTask } from './fitMaskTask';
import { evenFieldTask, toneFieldTask } from './matchTone';
import { nudgeTask } from './nudgePlace';
import { pointsTask, relateTask } from './alignPanorama';
import { greyMixTask, lightGainTask, placeTask, registerTask, toneTask } from './registerPictures';
import { labelPictureTask, maskTask, tileTask } from './renderTile';
import { noiseTask, storePicture } from './storePicture';

const { path: root, clean } = temporaryFolder();
afterAll(clean);

const [W, H] = [600, 440];
const NOISE = 0.004;
const texture = waveTexture(11, 40);
const SHIFT = { x: 3.4, y: -2.2 };
const plane = (dx = 0, dy = 0, gain = 1, seed = 1): Plane => {
  const clear = samplePlane(W, H, (x, y) => gain * (0.15 + 0.6 * texture(x + dx, y + dy)));
  return addNoise(clear, NOISE, seed);
};

type Stored = PlacedPicture & { readonly width: number; readonly height: number };

const store = (name: string, of: Plane): Promise<Stored> => storeColours(name, [of, of, of]);

/** Stores a picture of three channels. */
async function storeColours(name: string, channels: readonly [Plane, Plane, Plane]): Promise<Stored> {
  const { width, height } = channels[0];
  const data = new Uint8Array(3 * width * height);
  channels.forEach((channel, c) => {
    const pixels = greyPixels(channel, 8).data;
    for (let i = c; i < data.length; i += 3) data[i] = pixels[i]!;
  });
  const path = join(root, `${name}.png`);
  await sharp(data, { raw: { width, height, channels: 3 } })
    .png()
    .toFile(path);
  const tiles = join(root, `${name}.tiles`);
  const { noise } = await storePicture({ path, name: `${name}.png`, out: tiles });
  return { tiles, noise, geometry: SAME_PLACE, tone: IDENTITY_TONE, width, height };
}

let base: Stored;
let moved: Stored;
let dim: Stored;
beforeAll(async () => {
  base = await store('base', plane());
  moved = await store('moved', plane(SHIFT.x, SHIFT.y, 1, 2));
  dim = await store('dim', plane(0, 0, 0.7, 3));
});

describe('a picture that is stored', () => {
  it('holds each pixel of its file, and a level of half the size', async () => {
    const { data } = await sharp(join(root, 'base.png')).raw().toBuffer({ resolveWithObject: true });
    const file = openTileFile(base.tiles);
    try {
      expect([file.header.width, file.header.height, file.bits]).toEqual([W, H, 8]);
      expect(file.header.levels[1]).toMatchObject({ width: W / 2, height: H / 2 });
      const all = file.read(0, { x: 0, y: 0, width: W, height: H });
      expect(Buffer.from(all.data.buffer, all.data.byteOffset, all.data.byteLength).equals(data)).toBe(true);
    } finally {
      file.close();
    }
  });

  it('knows its noise, once read and once asked again, within a fifth', async () => {
    const smooth = samplePlane(W, H, (x) => 0.3 + (0.3 * x) / W);
    const noisy = await store('noisy', addNoise(smooth, 0.012, 5));
    for (const curve of [noisy.noise, noiseTask({ tiles: noisy.tiles })]) {
      const ratio = Math.sqrt(noiseAt(curve, 0.45)) / 0.012;
      expect(ratio).toBeGreaterThan(0.8);
      expect(ratio).toBeLessThan(1.2);
    }
  });

  it('that is no picture is refused by name', async () => {
    const path = join(root, 'none.png');
    writeFileSync(path, 'not a picture at all');
    await expect(storePicture({ path, name: 'none.png', out: join(root, 'none.tiles') })).rejects.toThrow('none.png');
  });
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

describe('what is shown and taken away', () => {
  const stroke = paintStroke(0, [[200, 140]], { sizePx: 80, hardness: 1 });
  const scene = (): InspectionScene => ({ merge: base, frames: [dim], operations: [stroke] });
  const decode = async (bytes: Uint8Array): Promise<{ at(x: number, y: number): number }> => {
    const { data, info } = await sharp(bytes).raw().toBuffer({ resolveWithObject: true });
    return { at: (x, y) => data[(y * info.width + x) * info.channels]! };
  };
  const valueOf = (gain: number, x: number, y: number): number => 255 * gain * (0.15 + 0.6 * texture(x + 0.5, y + 0.5));

  it('a tile of the repaired picture shows the donor under the stroke, the merge beside it', async () => {
    const tile = {
      region: { x: 100, y: 60, width: 200, height: 160 },
      width: 200,
      height: 160,
      format: 'png' as const,
    };
    const shown = await decode(
      await tileTask({ source: { kind: 'repaired', scene: scene(), names: ['one'] }, tile, icc: null }),
    );
    expect(Math.abs(shown.at(100, 80) - valueOf(0.7, 200, 140))).toBeLessThan(8);
    expect(Math.abs(shown.at(10, 10) - valueOf(1, 110, 70))).toBeLessThan(8);
    const half = { ...tile, width: 100, height: 80 };
    const small = await decode(
      await tileTask({ source: { kind: 'repaired', scene: scene(), names: ['one'] }, tile: half, icc: null }),
    );
    expect(Math.abs(small.at(50, 40) - shown.at(100, 80))).toBeLessThan(25);
  });

  it('a tile that goes on from an earlier one shows what it would show rendered at once, whatever was taken back', async () => {
    const tile = { region: { x: 100, y: 60, width: 96, height: 96 }, width: 96, height: 96, format: 'png' as const };
    const all = Array.from({ length: 9 }, (_, k) =>
      paintStroke(k % 3 === 2 ? null : 0, [[110 + 8 * k, 80 + 6 * k]], { sizePx: 30, strength: 0.7 }),
    );
    const shown = (count: number, tag: string, of = all): Promise<Uint8Array> => {
      const operations = of.slice(0, count);
      const names = operations.map((o) => `${tag}${all.indexOf(o)}`);
      const source = { kind: 'repaired' as const, scene: { merge: base, frames: [dim], operations }, names };
      return tileTask({ source, tile, icc: null });
    };
    const whole = await sharp(await shown(9, 'at once '))
      .raw()
      .toBuffer();
    for (const count of [5, 6, 9, 4, 7, 9]) {
      const step = await sharp(await shown(count, 'on '))
        .raw()
        .toBuffer();
      if (count === 9) expect(Math.max(...step.map((v, i) => Math.abs(v - whole[i]!)))).toBeLessThanOrEqual(1);
    }
    // Another order is another picture, although the same operations have been laid before.
    const turned = await sharp(await shown(9, 'on ', all.toReversed()))
      .raw()
      .toBuffer();
    const fresh = await sharp(await shown(9, 'turned ', all.toReversed()))
      .raw()
      .toBuffer();
    expect(Math.max(...turned.map((v, i) => Math.abs(v - fresh[i]!)))).toBeLessThanOrEqual(1);
    expect(Math.max(...turned.map((v, i) => Math.abs(v - whole[i]!)))).toBeGreaterThan(5);
  });

  it('a frame is shown where it lies in the merge', async () => {
    const geometry = similarityGeometry({ re: 1, im: 0, tx: 40, ty: 0 });
    const tile = { region: { x: 60, y: 60, width: 64, height: 64 }, width: 64, height: 64, format: 'png' as const };
    const source = { kind: 'frame' as const, frame: { ...base, geometry } };
    const shown = await decode(await tileTask({ source, tile, icc: null }));
    expect(Math.abs(shown.at(20, 20) - valueOf(1, 40, 80))).toBeLessThan(8);
  });

  it('the mask of a frame is white where it was painted, and the size of the merge', async () => {
    const bytes = await maskTask({ operations: [stroke], frame: 0, width: W, height: H });
    expect(await sharp(bytes).metadata()).toMatchObject({ width: W, height: H });
    const mask = await decode(bytes);
    expect([mask.at(200, 140), mask.at(200, 105), mask.at(20, 20)]).toEqual([255, 255, 0]);
    const other = await decode(await maskTask({ operations: [stroke], frame: 1, width: W, height: H }));
    expect(other.at(200, 140)).toBe(0);
  });

  it('a label map is one more than the frame, and nothing where none explains', async () => {
    const random = makeRandom(3);
    const closest = Uint8Array.from({ length: 12 }, () => Math.floor(random() * 4));
    const shown = closest.map((v, i) => (i % 3 === 0 ? 255 : v));
    const path = join(root, 'map.labels');
    writeFileSync(path, Buffer.concat([closest, shown]));
    const { data } = await sharp(await labelPictureTask({ labels: path, width: 4, height: 3 }))
      .raw()
      .toBuffer({ resolveWithObject: true });
    closest.forEach((v, i) => {
      expect(data[3 * i]).toBe(i % 3 === 0 ? 0 : v + 1);
      expect(data[3 * i + 1]).toBe(v + 1);
    });
  });

  it('a file written band by band holds the repaired picture, 16 bits deep, and becomes a PNG', async () => {
    const out = join(root, 'flat.tif');
    const layout = beginTiffTask({ width: W, height: H, icc: null, out });
    for (let y = 0; y < H; y += 96) renderRowsTask({ scene: scene(), out, layout, y, rows: Math.min(96, H - y) });
    expect(await sharp(out).metadata()).toMatchObject({ width: W, height: H, depth: 'ushort' });
    const png = join(root, 'flat.png');
    await convertTiffTask({ tiff: out, out: png });
    const flat = await decode(await sharp(readFileSync(png)).toColourspace('srgb').png().toBuffer());
    expect(Math.abs(flat.at(200, 140) - valueOf(0.7, 200, 140))).toBeLessThan(8);
    expect(Math.abs(flat.at(50, 270) - valueOf(1, 50, 270))).toBeLessThan(8);
    const { data } = await sharp(png).raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
    expect(data.length).toBe(W * H * 3 * 2);
  });
});

describe('a picture on its way out', () => {
  const scene = (
    operations: InspectionScene['operations'] = [],
    frames: readonly PlacedPicture[] = [],
  ): InspectionScene => ({
    ...{ merge: base, frames, operations },
  });
  /** Renders a part of the merge, turned, and reads it back. */
  async function cut(
    turnDeg: number,
    crop: { x: number; y: number; width: number; height: number },
  ): Promise<Uint16Array> {
    const out = join(root, `cut${turnDeg}.tif`);
    const { width, height } = crop;
    const layout = beginTiffTask({ width, height, icc: null, out });
    renderRowsTask({ scene: scene(), out, layout, y: 0, rows: height, cut: { turnDeg, crop } });
    const { data } = await sharp(out)
      .pipelineColourspace('rgb16')
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    return new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
  }

  it('is cropped to the same px, and turned shows each place where the closed form puts it', async () => {
    const crop = { x: 60, y: 50, width: 420, height: 300 };
    const straight = await cut(0, crop);
    const file = openTileFile(base.tiles);
    const before = file.read(0, crop);
    file.close();
    expect(Array.from(straight.slice(0, 300), (v) => Math.round(v / 257))).toEqual(
      Array.from(before.data.slice(0, 300)),
    );
    for (const turnDeg of [3.5, -8]) {
      const turned = await cut(turnDeg, crop);
      const back = turnedPlace({ width: W, height: H }, -turnDeg);
      let squares = 0;
      let n = 0;
      for (let y = 4; y < crop.height; y += 9)
        for (let x = 4; x < crop.width; x += 9, n++) {
          const [px, py] = back(crop.x + x + 0.5, crop.y + y + 0.5);
          // The texture is smooth: the picture is it and its noise, wherever it is asked.
          const want = 0.15 + 0.6 * texture(px, py);
          squares += (turned[3 * (y * crop.width + x)]! / 65535 - want) ** 2;
        }
      expect(Math.sqrt(squares / n)).toBeLessThan(2 * NOISE);
    }
  });

  /** A layer's values, R, G, B and cover, and where those of a px of the merge stand. */
  const layerOf = async (out: string, shape: MaskShape) => {
    const { data, info } = await sharp(out)
      .pipelineColourspace('rgb16')
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    expect(info.channels).toBe(4);
    const { x, y } = shapeRegion(shape);
    const at = (px: number, py: number): number => 4 * ((py - Math.floor(y)) * info.width + px - Math.floor(x));
    return { values: new Uint16Array(data.buffer, data.byteOffset, data.length / 2), at };
  };

  it('has a layer per operation: the donor’s px, seen as far as the mask lets them', async () => {
    const shape = paintStroke(0, [[100, 100]], { sizePx: 60, hardness: 1 }).shape;
    const out = join(root, 'layer.png');
    await layerPngTask({ scene: scene([{ donor: 0, shape }], [dim]), operation: 0, out });
    const { values, at } = await layerOf(out, shape);
    expect(values[at(100, 100) + 3]! / 65535).toBeGreaterThan(0.99);
    expect(values[at(72, 72) + 3]).toBe(0);
    expect(values[at(100, 100)]! / 65535).toBeCloseTo(0.7 * (0.15 + 0.6 * texture(100, 100)), 1);
  });

  it('the layer of an evening shows what the layers below it show, in another tone', async () => {
    const shape = paintStroke(0, [[100, 100]], { sizePx: 60, hardness: 1 }).shape;
    const tone = { columns: 2, rows: 2, values: new Array<number>(12).fill(0.1) };
    const out = join(root, 'evened.png');
    const operations = [
      { donor: 0, shape },
      { donor: null, shape, tone },
    ];
    await layerPngTask({ scene: scene(operations, [dim]), operation: 1, out });
    const { values, at } = await layerOf(out, shape);
    expect(values[at(100, 100)]! / 65535).toBeCloseTo(0.1 + 0.7 * (0.15 + 0.6 * texture(100, 100)), 1);
  });

  it('a halo beside an edge is evened by what an exposure says of it; a place that is as it should be stays', () => {
    const outline: MaskShape = {
      ...{ kind: 'outline', growPx: 0, featherPx: 4, strength: 1 },
      points: [[200, 150], [280, 150], [280, 210], [200, 210]], // prettier-ignore
    };
    const field = evenFieldTask({ scene: scene([], [base]), donor: 0, shape: outline, marginPx: 64 })!;
    expect(Math.max(...field.values.map(Math.abs))).toBeLessThan(0.004);
    const lighter = { ...{ columns: 2, rows: 2 }, values: new Array<number>(12).fill(0.06) };
    const wrong = { ...outline, points: [[215, 160], [265, 160], [265, 200], [215, 200]] as const, featherPx: 0 }; // prettier-ignore
    const act = { donor: null, shape: wrong, tone: lighter };
    const evened = evenFieldTask({ scene: scene([act], [base]), donor: 0, shape: outline, marginPx: 64 })!;
    // What was added is taken away again: in the middle of the mask, at the levels that stand there.
    expect(Math.min(...evened.values)).toBeGreaterThan(-0.075);
    expect(Math.min(...evened.values)).toBeLessThan(-0.05);
  });

  it('a darker donor is brought to the tone around the mask, and one that is nowhere valid is not', () => {
    const outline: MaskShape = {
      ...{ kind: 'outline', growPx: 4, featherPx: 8, strength: 1 },
      points: [[200, 150], [300, 150], [300, 230], [200, 230]], // prettier-ignore
    };
    const field = toneFieldTask({ scene: scene([], [dim]), donor: 0, shape: outline })!;
    const mean = field.values.reduce((sum, v) => sum + v, 0) / field.values.length;
    // Three tenths of a mean of 0.15 + 0.6 · ½.
    expect(mean).toBeGreaterThan(0.08);
    expect(mean).toBeLessThan(0.19);
    const elsewhere = { ...dim, geometry: similarityGeometry({ re: 1, im: 0, tx: 5000, ty: 0 }) };
    expect(toneFieldTask({ scene: scene([], [elsewhere]), donor: 0, shape: outline })).toBeNull();
  });

  it('is met by a view that lies a px or two off, once that is nudged; one that shows nothing else stays', () => {
    const shape: MaskShape = {
      ...{ kind: 'outline', growPx: 4, featherPx: 8, strength: 1 },
      points: [[200, 150], [300, 150], [300, 230], [200, 230]], // prettier-ignore
    };
    const off = { ...dim, geometry: similarityGeometry({ re: 1, im: 0, tx: 1.4, ty: -0.8 }) };
    const [dx, dy] = nudgeTask({ scene: scene([], [off]), donor: 0, shape })!;
    expect(Math.hypot(dx - 1.4, dy + 0.8)).toBeLessThan(0.15);
    expect(nudgeTask({ scene: scene([], [dim]), donor: 0, shape })).toEqual([0, 0]);
  });

  it('an edge that two frames cover only together is masked in two parts, in the strip alone', async () => {
    const [left, right] = await Promise.all(
      [0, 1].map((k) => {
        const half = plane(0, 0, 1, 5 + k);
        const from = k === 0 ? 0 : W / 2 - 20;
        const data = new Float32Array((W / 2 + 20) * H);
        for (let y = 0; y < H; y++)
          data.set(half.data.subarray(y * W + from, y * W + from + W / 2 + 20), y * (W / 2 + 20));
        return store(`half${k}`, { width: W / 2 + 20, height: H, data });
      }),
    );
    const blank = plane(0, 0, 1, 8);
    blank.data.fill(0, 0, 20 * W);
    const merge = await store('edge', blank);
    const placed = { ...right!, geometry: similarityGeometry({ re: 1, im: 0, tx: W / 2 - 20, ty: 0 }) };
    const parts = fitMaskTask({
      scene: { merge, frames: [left!, placed], operations: [] },
      facts: { kind: 'panorama', axis: null, inside: null, grain: null, surveys: {} },
      polygon: [[0, 0], [W, 0], [W, 20], [0, 20]], // prettier-ignore
      ...{ source: 'beside', reach: 4, leastGain: 0 },
    });
    expect([...new Set(parts.map((p) => p.donor))].sort()).toEqual([0, 1]);
    // Each lies where its frame reaches, and none far below the strip.
    for (const { donor, points } of parts) {
      const xs = points.map(([x]) => x);
      expect(donor === 0 ? Math.max(...xs) <= W / 2 + 20 : Math.min(...xs) >= W / 2 - 20).toBe(true);
      expect(Math.max(...points.map(([, y]) => y))).toBeLessThanOrEqual(36);
    }
    const reach = parts.flatMap(({ points }) => points.map(([x]) => x));
    expect([Math.min(...reach), Math.max(...reach)]).toEqual([0, W]);
  });

  it('that leans is told by its edges; one without any has none', async () => {
    const lean = Math.tan((2 * Math.PI) / 180);
    // Edges as lenses draw them, not as stairs.
    const wall = samplePlane(
      W,
      H,
      (x, y) => 0.45 + 0.2 * Math.tanh(y - 200 - lean * x) + 0.1 * Math.tanh(x - 420 + lean * y),
    );
    const tilt = tiltOf(edgesTask({ merge: await store('leaning', wall) }))!;
    expect(Math.abs(tilt.turnDeg + 2)).toBeLessThan(0.1);
    expect(
      tiltOf(
        edgesTask({
          merge: await store(
            'plain',
            samplePlane(W, H, () => 0.4),
          ),
        }),
      ),
    ).toBeNull();
  });
});
