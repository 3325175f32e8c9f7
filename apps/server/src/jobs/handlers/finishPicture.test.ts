// A picture on its way out: cropped, turned, in layers, and how far it leans.
import { join } from 'node:path';
import sharp from 'sharp';
import { tiltOf, turnedPlace } from '@blendrak/core/finish';
import { shapeRegion, type MaskShape } from '@blendrak/core/repair';
import { samplePlane } from '../../../../../packages/core/src/testing/pictures';
import { openTileFile } from '../../codecs';
import { temporaryFolder } from '../../testing/inProcess';
import { paintStroke } from '../../testing/paint';
import { W, H, NOISE, texture, type Stored, sceneOf, storeIn } from '../../testing/storedTextures';
import type { InspectionScene } from '../protocol';
import { beginTiffTask, renderRowsTask } from './exportTiff';
import { edgesTask, layerPngTask } from './finishPicture';

const { path: root, clean } = temporaryFolder();
afterAll(clean);

const { store, three } = storeIn(root);
let base: Stored;
let dim: Stored;
beforeAll(async () => {
  ({ base, dim } = await three());
});

describe('a picture on its way out', () => {
  const scene = (operations?: InspectionScene['operations'], frames?: readonly Stored[]) =>
    sceneOf(base, operations, frames);
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
