// The preview of strokes: the same pixels as the server's masks make, whatever order pixels and strokes come in.
import { layShape, type MaskShape } from '@blendrak/core/repair';
import type { TilePixels } from './composeTile';
import type { FromPreview, WantedTile } from './messages';
import { makePreview } from './previewModel';

const SIDE = 64;
const REGION = { x: 64, y: 0, width: SIDE, height: SIDE };

function plain(value: number): TilePixels {
  const pixels = new Uint8ClampedArray(4 * SIDE * SIDE).fill(value);
  for (let i = 3; i < pixels.length; i += 4) pixels[i] = 255;
  return pixels;
}
const PIXELS: Readonly<Record<string, number>> = { base: 100, repaired: 140, one: 200, two: 20 };

const stroke = (points: [number, number][], strength = 1): MaskShape => ({
  ...{ kind: 'stroke', points, sizePx: 20, hardness: 0.5, strength },
});
const wanted = (all: string[], operations: WantedTile['operations'], baseUrl = 'base'): WantedTile => ({
  ...{ key: 'tile', region: REGION, scale: 1, baseUrl, all, operations },
});
const LINE = stroke([
  [80, 20],
  [110, 20],
]);
const operation = (id: string, donorUrl: string, shape = LINE) => ({ id, shape, donorUrl });

/** A preview with the page's side of it: what is on the canvas of its only tile. */
function open(load = (url: string): Promise<TilePixels> => Promise.resolve(plain(PIXELS[url]!))) {
  let canvas: TilePixels | null = null;
  const told: FromPreview[] = [];
  const model = makePreview(load, (message) => {
    told.push(message);
    if (message.kind === 'gone') canvas = null;
    if (message.kind !== 'patch') return;
    if (message.isAll || !canvas) canvas = new Uint8ClampedArray(4 * message.width * message.height);
    const { x, y, width, height, data } = message.patch;
    for (let row = 0; row < height; row++)
      canvas.set(data.subarray(4 * row * width, 4 * (row + 1) * width), 4 * ((y + row) * message.width + x));
  });
  const at = (x: number, y: number): [value: number, alpha: number] => {
    const i = 4 * ((y - REGION.y) * SIDE + x - REGION.x);
    return canvas ? [canvas[i]!, canvas[i + 3]!] : [-1, -1];
  };
  return { model, at, told, isShown: () => canvas !== null };
}

/** What covering by a shape makes of two values, px by px. */
function covered(shape: MaskShape, below: number, donor: number, x: number, y: number): number {
  const mask = new Float32Array(SIDE * SIDE);
  layShape(mask, REGION, shape);
  return Math.round(below + mask[(y - REGION.y) * SIDE + x - REGION.x]! * (donor - below));
}

it('shows the donor under the stroke, as much of it as the mask says, and nothing beside it', async () => {
  const { model, at } = open();
  model.receive({ kind: 'want', tiles: [wanted(['a'], [operation('a', 'one')])] });
  await model.settled();
  for (const y of [20, 26, 28]) {
    const [value, alpha] = at(95, y);
    expect([Math.abs(value - covered(LINE, 100, 200, 95, y)) <= 1, alpha]).toEqual([true, 255]);
  }
  expect(at(95, 50)).toEqual([0, 0]);
});

it('a stroke that grows shows the same as when it is laid whole, and stays when it is committed', async () => {
  const { model, at, told } = open();
  const first = [{ ...wanted([], []), donorUrl: 'one' }];
  const pieces = [stroke([[80, 20]]), stroke([[80, 20], [95, 20]]), stroke([[95, 20], [110, 20]])]; // prettier-ignore
  model.receive({ kind: 'draw', piece: pieces[0]!, keys: ['tile'], first });
  for (const piece of pieces.slice(1)) model.receive({ kind: 'draw', piece, keys: ['tile'], first: [] });
  await model.settled();
  expect(at(95, 27)[0]).toBeCloseTo(covered(LINE, 100, 200, 95, 27), 0);
  model.receive({ kind: 'commit', id: 'a' });
  const before = told.length;
  model.receive({ kind: 'want', tiles: [wanted(['a'], [operation('a', 'one')])] });
  await model.settled();
  // It is composed already: no pixel is sent again.
  expect(told.slice(before).filter((m) => m.kind === 'patch')).toEqual([]);
  expect(at(95, 27)[0]).toBeCloseTo(covered(LINE, 100, 200, 95, 27), 0);
});

it('what is given up leaves what was there before it', async () => {
  const { model, at } = open();
  model.receive({ kind: 'want', tiles: [wanted(['a'], [operation('a', 'one')])] });
  const across = stroke([
    [95, 5],
    [95, 60],
  ]);
  model.receive({ kind: 'draw', piece: across, keys: ['tile'], first: [{ ...wanted(['a'], []), donorUrl: 'two' }] });
  await model.settled();
  expect([at(95, 20)[0], at(95, 50)[0]]).toEqual([20, 20]);
  model.receive({ kind: 'giveUp' });
  await model.settled();
  expect([at(95, 20), at(95, 50)]).toEqual([
    [200, 255],
    [at(95, 50)[0], 0],
  ]);
});

it('a stroke taken back vanishes, later ones stay', async () => {
  const { model, at } = open();
  const other = operation('b', 'two', stroke([[80, 50]]));
  model.receive({ kind: 'want', tiles: [wanted(['a', 'b'], [operation('a', 'one'), other])] });
  model.receive({ kind: 'want', tiles: [wanted(['b'], [other])] });
  await model.settled();
  expect([at(95, 20)[1], at(80, 50)]).toEqual([0, [20, 255]]);
});

it('strokes go once the picture shows them itself', async () => {
  const { model, isShown } = open();
  model.receive({ kind: 'want', tiles: [wanted(['a'], [operation('a', 'one')])] });
  await model.settled();
  expect(isShown()).toBe(true);
  model.receive({ kind: 'want', tiles: [] });
  await model.settled();
  expect(isShown()).toBe(false);
});

it('later strokes lie over earlier ones, also over those that the base has', async () => {
  const { model, at } = open();
  model.receive({
    kind: 'want',
    tiles: [wanted(['a', 'b'], [operation('b', 'two', stroke([[95, 20]], 0.5))], 'repaired')],
  });
  await model.settled();
  expect(at(95, 20)[0]).toBe(80);
});

it('pixels that come late do not change the order, and pixels that never come spoil nothing else', async () => {
  let release: () => void = () => undefined;
  const late = new Promise<void>((done) => {
    release = done;
  });
  let isAway = true;
  const { model, at } = open(async (url) => {
    if (url === 'one') await late;
    if (url === 'two' && isAway) throw new Error('the server is away');
    return plain(PIXELS[url]!);
  });
  const one = operation('a', 'one');
  model.receive({ kind: 'want', tiles: [wanted(['a'], [one])] });
  model.receive({ kind: 'want', tiles: [wanted(['a', 'b'], [one, operation('b', 'two', stroke([[95, 20]]))])] });
  release();
  await model.settled();
  expect(at(95, 20)[0]).toBe(200);
  isAway = false;
  model.receive({ kind: 'want', tiles: [wanted(['a', 'b'], [one, operation('b', 'two', stroke([[95, 20]]))])] });
  await model.settled();
  expect(at(95, 20)[0]).toBe(20);
});
