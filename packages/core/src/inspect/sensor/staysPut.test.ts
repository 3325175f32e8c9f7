// What stays on the sensor told from what moves with the scene, on rough ground and by moves smaller than a speck.
import { FULL_SIZE } from '../../cells';
import { similarityGeometry } from '../../frame';
import type { Plane } from '../../image';
import { addNoise, samplePlane, waveTexture } from '../../testing/pictures';
import { dipsOfDisc, lookForDips, STEPS } from './dipMaps';
import { spotsOnSensor } from './spotsOnSensor';
import { stayingAt } from './staysPut';

const [W, H] = [240, 180];
/** Moves of a hand that tries to hold still, px. */
const MOVES = [
  [0, 0],
  [2.2, -1.4],
  [-1.3, 2.6],
  [3.1, 1.2],
  [-2.4, -2.1],
] as const;
const DEPTH = 0.3;
const RADIUS = 5;
const wave = waveTexture(9);

/** Encoded: light that is left at a distance from a speck, softly. */
const through = (r: number): number => {
  const t = Math.min(1, Math.max(0, (1.25 - r / RADIUS) / 0.5));
  return 1 - DEPTH * t * t * (3 - 2 * t);
};
const encode = (light: number): number => light ** (1 / 2.2);

interface Set {
  readonly speck?: readonly [number, number];
  readonly dot?: readonly [number, number];
  readonly moves?: readonly (readonly [number, number])[];
  /** Contrast of the ground. */
  readonly rough?: number;
}

function shots({ speck, dot, moves = MOVES, rough = 0.5 }: Set): Plane[] {
  return moves.map(([mx, my], k) => {
    const plane = samplePlane(W, H, (x, y) => {
      const [u, v] = [x + mx, y + my];
      const ground = 0.3 * (1 + rough * (wave(u, v) - 0.5));
      const own = dot ? through(Math.hypot(u - dot[0], v - dot[1])) : 1;
      return encode(ground * own * (speck ? through(Math.hypot(x - speck[0], y - speck[1])) : 1));
    });
    return addNoise(plane, 0.003, 30 + k);
  });
}

const look = (luma: Plane) => lookForDips({ luma, unitPx: 1, noise: 1e-5, width: luma.width, height: luma.height });
const geometriesOf = (moves: readonly (readonly [number, number])[]) =>
  moves.map(([tx, ty]) => similarityGeometry({ re: 1, im: 0, tx, ty }));

/** What stays at a place, by maps of radius 5. */
function staying(set: Set, x: number, y: number) {
  const maps = shots(set).map((plane) => look(plane).maps[2]!);
  return stayingAt({ maps, geometries: geometriesOf(set.moves ?? MOVES), unitPx: 1 }, x, y);
}

it('a speck on rough ground stays, with the depth it was drawn with', () => {
  const { depth, deviation } = staying({ speck: [121, 91] }, 121, 91);
  // Its map takes the mean over the middle, which holds some of the soft rim.
  expect(depth).toBeGreaterThan(0.75 * DEPTH);
  expect(depth).toBeLessThan(1.1 * DEPTH);
  expect(depth / deviation).toBeGreaterThan(7);
});

it('a dot of the scene, as dark, does not stay', () => {
  const { depth, deviation } = staying({ dot: [121, 91] }, 121, 91);
  expect(Math.abs(depth)).toBeLessThan(Math.max(0.02, 3 * deviation));
});

it('on plain rough ground nothing stays, wherever one looks', () => {
  const maps = shots({}).map((plane) => look(plane).maps[2]!);
  const placed = { maps, geometries: geometriesOf(MOVES), unitPx: 1 };
  let most = 0;
  for (let y = 40; y <= 140; y += 10)
    for (let x = 40; x <= 200; x += 10) {
      const { depth, deviation } = stayingAt(placed, x, y);
      most = Math.max(most, depth / deviation);
    }
  expect(most).toBeLessThan(6);
});

it('frames that did not move tell nothing', () => {
  expect(staying({ speck: [121, 91], moves: MOVES.map(() => [0, 0] as const) }, 121, 91).deviation).toBe(Infinity);
});

it('a disc looks in a map of its radius as its profile says', () => {
  const radius = 8;
  const disc = samplePlane(W, H, (x, y) => {
    const t = Math.min(1, Math.max(0, (1.25 * radius - Math.hypot(x - 120.5, y - 92.5)) / (radius / 2)));
    return encode(0.4 * (1 - 0.2 * t));
  });
  const map = look(disc).maps[3]!;
  const at = (dx: number, dy: number): number =>
    map.dips[(92 / map.everyPx + dy) * map.width + 120 / map.everyPx + dx]! / STEPS;
  const middle = at(0, 0);
  expect(middle).toBeGreaterThan(0.15);
  for (const d of [1, 2, 3, 4]) {
    const [along, down] = [at(d, 0), at(0, d)];
    const told = middle * dipsOfDisc((d * map.everyPx) / radius);
    expect(Math.abs((along + down) / 2 - told)).toBeLessThan(0.03);
  }
});

describe('the specks of a set', () => {
  const found = (set: Set) =>
    spotsOnSensor(
      shots(set).map(look),
      geometriesOf(set.moves ?? MOVES).map((geometry) => ({ geometry, width: W, height: H })),
      FULL_SIZE,
    );

  it('are told from dots of the scene, though the hand moved less than their size', () => {
    const spots = found({ speck: [121, 91], dot: [60, 50] });
    expect(spots).toHaveLength(1);
    const { sensor, places } = spots[0]!;
    expect(Math.hypot(sensor[0] - 121, sensor[1] - 91)).toBeLessThan(3);
    expect(places[3]![0] - sensor[0]).toBeCloseTo(3.1, 5);
  });

  it('are told by frames of one size: one that was held upright shows the sensor elsewhere', () => {
    const planes = shots({ speck: [121, 91] });
    const upright = samplePlane(H, W, (x, y) => planes[0]!.data[Math.floor(x) * W + Math.floor(y)]!);
    const sized = geometriesOf(MOVES).map((geometry) => ({ geometry, width: W, height: H }));
    const other = { geometry: sized[0]!.geometry, width: H, height: W };
    const spots = spotsOnSensor([...planes.map(look), look(upright)], [...sized, other], FULL_SIZE);
    expect(spots).toHaveLength(1);
    expect(spots[0]!.places).toHaveLength(MOVES.length + 1);
    expect(spots[0]!.places.map((place) => place === null)).toEqual([...MOVES.map(() => false), true]);
  });

  it('are none where frames that were looked at did not move', () => {
    expect(found({ speck: [121, 91], rough: 0.02, moves: MOVES.map(() => [0, 0] as const) })).toEqual([]);
  });
});
