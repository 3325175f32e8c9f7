// Strokes, masks and the repaired picture.
import fc from 'fast-check';
import { planeView, type KernelPlanes, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { blockTexture } from '../testing/pictures';
import { frameOf } from '../testing/stack';
import {
  brushFall,
  layOperations,
  layStroke,
  operationsInTile,
  placeOperation,
  renderMask,
  renderRepair,
  strokeRegion,
  tileState,
  UNTOUCHED,
  type Operation,
  type Stroke,
} from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const stroke: Stroke = {
  points: [
    [30, 40],
    [60, 40],
  ],
  sizePx: 20,
  hardness: 0.5,
  strength: 0.8,
};

/** The stroke, painted with a frame or with the merge itself. */
function painted(donor: number | null, change: Partial<Stroke> = {}): Operation {
  return { donor, shape: { kind: 'stroke', ...stroke, strength: 1, ...change } };
}
const REGION = { x: 0, y: 0, width: 96, height: 80 };

describe('layStroke', () => {
  it('is full on the line, falls to nothing at the rim and touches only its own region', () => {
    const mask = new Float32Array(96 * 80);
    layStroke(mask, REGION, stroke);
    expect(mask[40 * 96 + 45]).toBeCloseTo(0.8, 5);
    expect(mask[52 * 96 + 45]).toBe(0);
    const box = strokeRegion(stroke);
    for (let y = 0; y < 80; y++) {
      for (let x = 0; x < 96; x++) {
        const inside = x >= box.x && y >= box.y && x < box.x + box.width && y < box.y + box.height;
        if (!inside) expect(mask[y * 96 + x]).toBe(0);
      }
    }
  });

  it('does not darken when the stroke crosses itself or is laid in pieces', () => {
    const whole = new Float32Array(96 * 80);
    layStroke(whole, REGION, {
      ...stroke,
      points: [
        [30, 40],
        [60, 40],
        [30, 40],
      ],
    });
    const pieces = new Float32Array(96 * 80);
    layStroke(pieces, REGION, {
      ...stroke,
      points: [
        [30, 40],
        [45, 40],
      ],
    });
    layStroke(pieces, REGION, {
      ...stroke,
      points: [
        [45, 40],
        [60, 40],
      ],
    });
    expect(pieces).toEqual(whole);
  });

  it('covers the same place at half size', () => {
    const half = new Float32Array(48 * 40);
    layStroke(half, { x: 0, y: 0, width: 48, height: 40 }, stroke, 2);
    const full = new Float32Array(96 * 80);
    layStroke(full, REGION, stroke);
    const sum = (m: Float32Array): number => m.reduce((a, b) => a + b, 0);
    expect(sum(half) * 4).toBeGreaterThan(0.97 * sum(full));
    expect(sum(half) * 4).toBeLessThan(1.03 * sum(full));
  });

  it('covers less where the pen is pressed less, in between along a segment', () => {
    const mask = new Float32Array(96 * 80);
    const line = [
      [20, 40, 1],
      [80, 40, 0.5],
    ] as const;
    layStroke(mask, REGION, { ...stroke, points: line, strength: 0.8 });
    for (const x of [22, 50, 78]) expect(mask[40 * 96 + x]).toBeCloseTo(0.8 * (1 - (0.5 * (x + 0.5 - 20)) / 60), 5);
    const full = new Float32Array(96 * 80);
    layStroke(full, REGION, { ...stroke, points: line.map(([x, y]) => [x, y] as const) });
    const pressed = new Float32Array(96 * 80);
    layStroke(pressed, REGION, {
      ...stroke,
      points: [
        [20, 40, 1],
        [80, 40, 1 - 1e-9],
      ],
    });
    // Full pressure by the slow way is the stroke without pressure.
    full.forEach((v, i) => expect(pressed[i]).toBeCloseTo(v, 5));
  });

  it('paints a single tap', () => {
    const mask = new Float32Array(96 * 80);
    layStroke(mask, REGION, { ...stroke, points: [[20, 20]] });
    expect(mask[20 * 96 + 20]).toBeCloseTo(0.8, 5);
  });

  it.each([
    [{ ...stroke, sizePx: 0 }, 'stroke.sizePx: expected 1 to 4000 px, received 0'],
    [{ ...stroke, hardness: 2 }, 'stroke.hardness: expected 0 to 1, received 2'],
    [{ ...stroke, strength: 0 }, 'stroke.strength: expected above 0, up to 1, received 0'],
    [{ ...stroke, points: [] }, 'stroke.points.length: expected at least 1 point, received 0'],
  ])('names what is wrong with a stroke', (bad, message) => {
    expect(() => layStroke(new Float32Array(96 * 80), REGION, bad as Stroke)).toThrow(message);
  });
});

it('the brush falls steadily from 1 to 0', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 200, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (radius, hardness) => {
        let last = 1;
        for (let i = 0; i <= 40; i++) {
          const v = brushFall((i / 40) * (radius + 2), radius, hardness);
          expect(v).toBeLessThanOrEqual(last + 1e-12);
          last = v;
        }
        expect(last).toBe(0);
        expect(brushFall(0, radius, hardness)).toBe(1);
      },
    ),
    { seed: 5 },
  );
});

describe('renderRepair', () => {
  const base = blockTexture(96, 80, 1);
  const donor = blockTexture(96, 80, 2);
  const strokes = [painted(1)];

  it('shows the donor inside the stroke, the merge outside, and the mask between', () => {
    const out = kernels.scope(() =>
      planeView(
        kernels,
        renderRepair(
          kernels,
          frameOf(kernels, base),
          [frameOf(kernels, base), frameOf(kernels, donor)],
          strokes,
          REGION,
        ),
      ).slice(),
    );
    const mask = renderMask(1, strokes, REGION);
    for (let i = 0; i < out.length; i++) {
      expect(Math.abs(out[i]! - (base.data[i]! + mask[i]! * (donor.data[i]! - base.data[i]!)))).toBeLessThan(3e-5);
    }
  });

  it('a mask of a frame is not covered by an evening, which leaves what is there', () => {
    const tone = { columns: 2, rows: 2, values: new Array<number>(12).fill(0.1) };
    const evening = { donor: null, shape: strokes[0]!.shape, tone };
    expect(renderMask(1, [...strokes, evening], REGION)).toEqual(renderMask(1, strokes, REGION));
  });

  it('renders a region to the same pixels as the whole', () => {
    const part = { x: 24, y: 28, width: 40, height: 24 };
    const render = (region: typeof part): Float32Array =>
      kernels.scope(() =>
        planeView(
          kernels,
          renderRepair(
            kernels,
            frameOf(kernels, base),
            [frameOf(kernels, base), frameOf(kernels, donor)],
            strokes,
            region,
          ),
        ).slice(),
      );
    const whole = render(REGION);
    const piece = render(part);
    for (let y = 0; y < part.height; y++) {
      for (let x = 0; x < part.width; x++) {
        expect(piece[y * part.width + x]).toBeCloseTo(whole[(part.y + y) * 96 + part.x + x]!, 6);
      }
    }
  });

  it('takes repairs back where the merge itself is painted', () => {
    const frames = [frameOf(kernels, base), frameOf(kernels, donor)];
    const render = (operations: readonly Operation[]): Float32Array =>
      kernels.scope(() =>
        planeView(kernels, renderRepair(kernels, frameOf(kernels, base), frames, operations, REGION)).slice(),
      );
    const untouched = render([]);
    const back = render([painted(1), painted(null, { sizePx: 60, hardness: 1 })]);
    expect(Math.max(...back.map((v, i) => Math.abs(v - untouched[i]!)))).toBeLessThan(1e-6);
    expect(Math.max(...render([painted(1)]).map((v, i) => Math.abs(v - untouched[i]!)))).toBeGreaterThan(0.1);
  });

  it('several strokes with one donor look like one after the other', () => {
    const frames = [frameOf(kernels, base), frameOf(kernels, donor)];
    const two = [painted(1, { strength: 0.5 }), painted(1, { points: [[40, 44]], sizePx: 30, strength: 0.6 })];
    const together = kernels.scope(() =>
      planeView(kernels, renderRepair(kernels, frameOf(kernels, base), frames, two, REGION)).slice(),
    );
    const masks = two.map((o) => renderMask(1, [o], REGION));
    for (let i = 0; i < together.length; i++) {
      const cover = 1 - (1 - masks[0]![i]!) * (1 - masks[1]![i]!);
      expect(Math.abs(together[i]! - (base.data[i]! + cover * (donor.data[i]! - base.data[i]!)))).toBeLessThan(3e-5);
    }
  });

  it('donors that take turns are resampled once for all, and look as if each were laid by itself', () => {
    const frames = [frameOf(kernels, base), frameOf(kernels, donor)];
    const turns = Array.from({ length: 12 }, (_, k) =>
      painted([1, 0, null][k % 3]!, { points: [[20 + 5 * k, 30 + (k % 4) * 6]], strength: 0.8 }),
    );
    const read = (render: () => KernelPlanes): Float32Array =>
      kernels.scope(() => planeView(kernels, render()).slice());
    const whole = read(() => renderRepair(kernels, frameOf(kernels, base), frames, turns, REGION));
    const apart = read(() => {
      const out = renderRepair(kernels, frameOf(kernels, base), frames, [], REGION);
      for (const one of turns) layOperations(kernels, out, frameOf(kernels, base), frames, [one], REGION);
      return out;
    });
    for (let i = 0; i < whole.length; i++) expect(Math.abs(whole[i]! - apart[i]!)).toBeLessThan(1e-5);
    expect(Math.max(...whole.map((v, i) => Math.abs(v - base.data[i]!)))).toBeGreaterThan(0.1);
  });

  it('lets a later stroke of another frame cover an earlier one in the masks', () => {
    const both = [...strokes, painted(0)];
    expect(renderMask(1, both, REGION)[40 * 96 + 45]).toBe(0);
    expect(renderMask(0, both, REGION)[40 * 96 + 45]).toBe(1);
  });
});

describe('tileState', () => {
  const at = (id: string, x: number) => placeOperation({ id, ...painted(0, { points: [[x, 40]] }) });
  const tile = { x: 0, y: 0, width: 100, height: 100 };
  const [near, also, far] = [at('near', 50), at('also', 60), at('far', 400)];

  it('is the same whatever happens elsewhere, and another for other operations or another order', () => {
    expect(tileState([], tile, 100)).toBe(UNTOUCHED);
    expect(tileState([far], tile, 100)).toBe(UNTOUCHED);
    expect(tileState([near, far], tile, 100)).toBe(tileState([near], tile, 100));
    const states = [[near], [also], [near, also], [also, near]].map((list) => tileState(list, tile, 100));
    expect(new Set(states).size).toBe(4);
    for (const state of states) expect(state).toMatch(/^[0-9a-f]{16}$/);
  });

  it('counts what lies within the resampling’s reach of a reduced tile', () => {
    const beside = at('beside', 116);
    expect(operationsInTile([beside], tile, 100)).toEqual([]);
    expect(operationsInTile([beside], tile, 50)).toEqual([beside]);
  });

  it('names of many states are all different', () => {
    const names = Array.from({ length: 5000 }, (_, k) => tileState([at(`operation ${k}`, 50)], tile, 100));
    expect(new Set(names).size).toBe(5000);
  });
});
