// Where a picture lies on the screen: places stay where they should while it is moved.
import fc from 'fast-check';
import {
  constrained,
  fitting,
  inSight,
  isOnPicture,
  keepingInSight,
  meets,
  panned,
  showing,
  toPicture,
  toScreen,
  zoomed,
  type Camera,
} from './camera';

const PICTURE = { width: 6000, height: 4000 };
const camera: Camera = { originX: 100, originY: 50, zoom: 0.5, width: 900, height: 600 };
const cameras = fc.record({
  originX: fc.double({ min: -9000, max: 9000, noNaN: true }),
  originY: fc.double({ min: -9000, max: 9000, noNaN: true }),
  zoom: fc.double({ min: 0.01, max: 30, noNaN: true }),
  width: fc.integer({ min: 200, max: 3000 }),
  height: fc.integer({ min: 200, max: 3000 }),
});
const places = fc.record({ x: fc.integer({ min: 0, max: 900 }), y: fc.integer({ min: 0, max: 600 }) });

it('screen and picture are each other’s inverse', () => {
  fc.assert(
    fc.property(cameras, places, (c, at) => {
      const back = toScreen(c, toPicture(c, at));
      expect(back.x).toBeCloseTo(at.x, 4);
      expect(back.y).toBeCloseTo(at.y, 4);
    }),
    { seed: 1 },
  );
});

it('zooming about a place leaves it where it is', () => {
  fc.assert(
    fc.property(cameras, places, fc.double({ min: 0.2, max: 5, noNaN: true }), (c, about, factor) => {
      const before = toPicture(c, about);
      const after = toPicture(zoomed(c, factor, about), about);
      expect(after.x).toBeCloseTo(before.x, 4);
      expect(after.y).toBeCloseTo(before.y, 4);
    }),
    { seed: 2 },
  );
});

it('moving takes the picture along with the hand', () => {
  const at = toPicture(camera, { x: 300, y: 200 });
  expect(toScreen(panned(camera, 40, -25), at)).toEqual({ x: 340, y: 175 });
});

it('a region travelled to lies in the middle: at the zoom asked for, or whole when it is larger', () => {
  const small = showing(camera, { x: 1000, y: 2000, width: 80, height: 60 }, 1);
  expect(small.zoom).toBe(1);
  expect(toScreen(small, { x: 1040, y: 2030 })).toEqual({ x: 450, y: 300 });
  const large = showing(camera, { x: 1000, y: 1000, width: 1800, height: 300 }, 1);
  expect(1800 * large.zoom).toBeCloseTo(0.8 * 900, 6);
  expect(showing(camera, { x: 0, y: 0, width: 30000, height: 10 }, 1).zoom).toBe(0.2);
  expect(showing(camera, { x: 0, y: 0, width: 90, height: 10 }, 'fit').zoom).toBeCloseTo(8, 6);
});

it('wherever the picture is pushed, part of it stays, and its zoom within limits', () => {
  fc.assert(
    fc.property(cameras, (c) => {
      const kept = constrained(c, PICTURE);
      const seen = inSight(kept, PICTURE);
      expect(seen).not.toBeNull();
      const least = 0.6 * fitting(c, PICTURE).zoom;
      expect(kept.zoom).toBeGreaterThanOrEqual(least - 1e-9);
      expect(kept.zoom).toBeLessThanOrEqual(Math.max(8, least) + 1e-9);
      expect(seen!.width * kept.zoom).toBeGreaterThan(0.29 * Math.min(kept.width, PICTURE.width * kept.zoom));
      // What may be may stay.
      const again = constrained(kept, PICTURE);
      for (const key of ['originX', 'originY', 'zoom'] as const) expect(again[key]).toBeCloseTo(kept[key], 6);
    }),
    { seed: 4 },
  );
});

it('the whole picture fits in, in the middle', () => {
  const fit = fitting({ ...camera, width: 900, height: 900 }, PICTURE);
  expect(fit.zoom).toBeCloseTo(0.15, 9);
  expect(toScreen(fit, { x: 3000, y: 2000 })).toEqual({ x: 450, y: 450 });
});

it('a place that leaves the pane takes the picture along, one inside does not', () => {
  const inside = toPicture(camera, { x: 450, y: 300 });
  expect(keepingInSight(camera, inside, 40)).toEqual(camera);
  const outside = toPicture(camera, { x: 1000, y: -30 });
  expect(toScreen(keepingInSight(camera, outside, 40), outside)).toEqual({ x: 860, y: 40 });
});

it('says what is in sight, what is on the picture, and what meets', () => {
  expect(inSight({ ...camera, originX: -200 }, PICTURE)).toEqual({ x: 0, y: 50, width: 1600, height: 1200 });
  expect(inSight({ ...camera, originX: 7000 }, PICTURE)).toBeNull();
  expect([isOnPicture(PICTURE, { x: 0, y: 0 }), isOnPicture(PICTURE, { x: 6000, y: 1 })]).toEqual([true, false]);
  const box = { x: 0, y: 0, width: 10, height: 10 };
  expect([meets(box, { ...box, x: 9 }), meets(box, { ...box, x: 10 })]).toEqual([true, false]);
});
