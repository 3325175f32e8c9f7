// Light, lens faults and sensor against closed forms.
import type { Region } from '@blendrak/core/image';
import { blurDiameterPx } from '../optics/lens';
import { disc, FOCAL_PX, LENS, moments, shot, SIZE, stage, view, wall } from '../testing/worlds';
import { makeRandom } from '../world/random';
import { withHand } from '../world/separator';
import { discBlur } from './discBlur';
import { renderLight } from './renderLight';
import { dustAt, record } from './sensor';
import { lightOf, takeFrame } from './takeFrame';

const WHOLE: Region = { x: 0, y: 0, ...SIZE };

describe('discBlur', () => {
  const random = makeRandom(3);
  const data = Float32Array.from({ length: 40 * 30 }, () => random());

  it.each([0.6, 1.5, 3.2, 5])('equals a finely sampled disc of radius %d within 2 %% of full scale', (radius) => {
    const out = discBlur({ width: 40, height: 30, data }, () => radius);
    const fine = 16;
    for (const [x, y] of [
      [20, 15],
      [12, 11],
    ] as const) {
      let [sum, n] = [0, 0];
      for (let j = -radius; j <= radius; j += 1 / fine) {
        for (let i = -radius; i <= radius; i += 1 / fine) {
          if (i * i + j * j > radius * radius) continue;
          sum += data[Math.floor(y + 0.5 + j) * 40 + Math.floor(x + 0.5 + i)]!;
          n++;
        }
      }
      expect(Math.abs(out[y * 40 + x]! - sum / n)).toBeLessThan(0.02);
    }
  });

  it('keeps the light of a point, wherever it stands in an otherwise empty channel', () => {
    for (const at of [20 * 41 + 20, 12 * 41 + 9]) {
      const point = new Float32Array(41 * 41);
      point[at] = 1;
      const total = discBlur({ width: 41, height: 41, data: point }, () => 6).reduce((a, b) => a + b, 0);
      expect(Math.abs(total - 1)).toBeLessThan(0.02);
    }
  });

  it('copies below a third of a pixel', () => {
    expect(discBlur({ width: 40, height: 30, data }, () => 0.2)).toEqual(data);
  });
});

describe('renderLight', () => {
  it('spreads a small disc by the thin lens: its variance grows by r²/4 within 4 %', () => {
    const scene = stage(wall(0, 1e6), disc(0, 0, 9, 500));
    const sharp = moments(renderLight(scene, shot(), WHOLE).r, WHOLE);
    for (const focusMm of [700, 1500, 100_000]) {
      const blurred = moments(renderLight(scene, shot({ focusMm }), WHOLE).r, WHOLE);
      const radius = blurDiameterPx(LENS, 500, focusMm) / 2;
      expect(Math.abs((blurred.varianceX - sharp.varianceX) / (radius * radius * 0.25) - 1)).toBeLessThan(0.04);
      // The light is kept but for what the coarse grid of strong blur samples amiss.
      expect(Math.abs(blurred.sum / sharp.sum - 1)).toBeLessThan(0.02);
    }
  });

  it('shifts near things by f·e/d px when the pupil moves sideways, far ones not', () => {
    const near = stage(disc(0, 0, 6, 2000));
    const far = stage(disc(0, 0, 6, 1e9));
    const moved = shot({ view: view([50, 0, 0]) });
    expect(moments(renderLight(near, moved, WHOLE).r, WHOLE).x).toBeCloseTo(80 - (FOCAL_PX * 50) / 2000, 1);
    expect(moments(renderLight(far, moved, WHOLE).r, WHOLE).x).toBeCloseTo(80, 2);
  });

  it('enlarges with the image distance: breathing moves a disc 40 px off the axis by its scale', () => {
    const scene = stage(disc(40, 0, 5, 500));
    const wide = moments(renderLight(scene, shot({ view: view([0, 0, 0], 0, FOCAL_PX * 1.05) }), WHOLE).r, WHOLE);
    expect(wide.x - 80).toBeCloseTo(42, 1);
  });

  it('turns with the camera', () => {
    const scene = stage(disc(0, 0, 5, 500));
    const turned = moments(renderLight(scene, shot({ view: view([0, 0, 0], 0.1) }), WHOLE).r, WHOLE);
    expect(turned.x).toBeCloseTo(80 - FOCAL_PX * Math.tan(0.1), 0);
  });

  it('drags a moving thing over speed × time: its variance grows by that squared over 12', () => {
    const scene = stage(disc(-10, 0, 5, 500, 1, 60));
    const still = moments(renderLight(scene, shot(), WHOLE).r, WHOLE);
    const moving = moments(renderLight(scene, shot({ shutterS: 0.4 }), WHOLE).r, WHOLE);
    expect(moving.x - still.x).toBeCloseTo(12, 1);
    expect(Math.abs((moving.varianceX - still.varianceX) / (24 ** 2 / 12) - 1)).toBeLessThan(0.03);
    expect(moving.varianceY).toBeCloseTo(still.varianceY, 1);
  });

  it('hides what is behind, and says how deep each pixel is', () => {
    const light = renderLight(stage(wall(0.2, 900), disc(0, 0, 20, 300, 0.7)), shot(), WHOLE);
    const middle = 60 * SIZE.width + 80;
    expect(light.r[middle]).toBeCloseTo(0.7, 5);
    expect(light.depthMm[middle]).toBeCloseTo(300, 3);
    expect(light.r[5]).toBeCloseTo(0.2, 5);
    expect(light.depthMm[5]).toBeCloseTo(900, 3);
  });

  it('leaves a region alone beside which a blurred thing ends', () => {
    // The blur's margin reaches the disc's box, its light does not reach the region.
    const box = { x0: 0.02, y0: -0.05, x1: 0.06, y1: 0.05 };
    const scene = stage(wall(0.2, 900), { ...disc(16, 0, 6, 500, 0.9), box });
    const region = { x: 60, y: 40, width: 24, height: 40 };
    for (const focusMm of [510, 530, 560, 600, 700]) {
      const { r } = renderLight(scene, shot({ focusMm }), region);
      expect(r[20 * 24 + 2]).toBeCloseTo(0.2, 2);
    }
  });

  it('does not depend on how the picture is cut into regions', () => {
    const scene = stage(wall(0.2, 900), disc(10, 6, 25, 420, 0.8), disc(-20, 0, 12, 300, 0.5));
    const exposure = shot({ focusMm: 420 });
    const whole = renderLight(scene, exposure, WHOLE);
    for (const region of [
      { x: 37, y: 21, width: 50, height: 40 },
      { x: 100, y: 70, width: 60, height: 50 },
    ]) {
      const part = renderLight(scene, exposure, region);
      let worst = 0;
      for (let y = 0; y < region.height; y++) {
        for (let x = 0; x < region.width; x++) {
          const i = (region.y + y) * SIZE.width + region.x + x;
          worst = Math.max(worst, Math.abs(part.r[y * region.width + x]! - whole.r[i]!));
        }
      }
      expect(worst).toBeLessThan(0.012);
    }
  });
});

describe('lens faults', () => {
  const scene = stage(wall(0, 1e6), disc(50, 30, 6, 500));

  it('draw red larger and blue smaller about the axis', () => {
    const { lens } = shot();
    const light = lightOf(scene, shot({ lens: { ...lens, lateralColour: 0.02 } }), WHOLE);
    const [red, green, blue] = [light.r, light.g, light.b].map((p) => moments(p, WHOLE).x - 80);
    expect(red).toBeCloseTo(green! * 1.02, 1);
    expect(blue).toBeCloseTo(green! * 0.98, 1);
  });

  it('shake a frame along one line: variance grows by length² / 12', () => {
    const still = moments(lightOf(scene, shot(), WHOLE).g, WHOLE);
    const shaken = moments(lightOf(scene, shot({ shakePx: [9, 0] }), WHOLE).g, WHOLE);
    expect(Math.abs((shaken.varianceX - still.varianceX) / (81 / 12) - 1)).toBeLessThan(0.1);
    expect(shaken.varianceY).toBeCloseTo(still.varianceY, 0);
  });

  it('soften the corners and leave the middle', () => {
    const soft = shot({ lens: { ...LENS, cornerBlurPx: 4 } });
    const corner = stage(disc(68, 48, 3, 500));
    const middle = stage(disc(0, 0, 3, 500));
    const spread = (s: ReturnType<typeof stage>, exposure: typeof soft): number =>
      moments(lightOf(s, exposure, WHOLE).g, WHOLE).varianceX;
    expect(spread(middle, soft)).toBeCloseTo(spread(middle, shot()), 1);
    expect(spread(corner, soft)).toBeGreaterThan(spread(corner, shot()) + 0.5);
  });
});

describe('the sensor', () => {
  const grey = stage(wall(0.3, 500));
  const decode = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);

  it('has the noise of photons and of reading: variance read² + photon² · light within 5 %', () => {
    for (const amplification of [1, 4]) {
      const noisy = shot({ sensor: { photonNoise: 0.02, readNoise: 0.003, dust: [] }, amplification });
      const data = takeFrame(grey, noisy, WHOLE, 16);
      const values = Array.from(data, (v) => decode(v / 65535));
      const mean = values.reduce((a, b) => a + b, 0) / values.length;
      const variance = values.reduce((a, b) => a + (b - mean) ** 2, 0) / values.length;
      expect(mean).toBeCloseTo(0.3, 2);
      const exact = 0.003 ** 2 * amplification ** 2 + 0.02 ** 2 * amplification * 0.3;
      expect(Math.abs(variance / exact - 1)).toBeLessThan(0.05);
    }
  });

  it('gives a pixel the same noise whatever region it is read in', () => {
    const noisy = shot({ sensor: { photonNoise: 0.02, readNoise: 0.003, dust: [] } });
    const whole = takeFrame(grey, noisy, WHOLE, 8);
    const part = takeFrame(grey, noisy, { x: 30, y: 20, width: 10, height: 1 }, 8);
    expect(Array.from(part)).toEqual(Array.from(whole.subarray((20 * 160 + 30) * 3, (20 * 160 + 40) * 3)));
  });

  it('doubles light per EV, balances white by channel, darkens corners, and clips', () => {
    const light = renderLight(grey, shot(), WHOLE);
    const value = (over: Parameters<typeof shot>[0], at: number, channel = 0): number =>
      decode(record(light, view(), shot(over), 16)[3 * at + channel]! / 65535);
    const middle = 60 * 160 + 80;
    expect(value({ gain: 2 }, middle)).toBeCloseTo(0.6, 3);
    expect(value({ whiteBalance: [1, 1, 0.5] }, middle, 2)).toBeCloseTo(0.15, 3);
    expect(value({ gain: 8 }, middle)).toBe(1);
    // The corner of 160 × 120 px is 100 px from the middle: one half diagonal.
    expect(value({ lens: { ...LENS, vignetting: 0.4 } }, 0)).toBeCloseTo(0.3 * 0.6, 2);
  });

  it('shows dust at the same place, soft at its rim', () => {
    const spots = [{ xPx: 50, yPx: 40, radiusPx: 8, depth: 0.3 }];
    expect(dustAt(spots, 50, 40)).toBeCloseTo(0.7, 6);
    expect(dustAt(spots, 50 + 8, 40)).toBeCloseTo(1 - 0.3 / 2, 6);
    expect(dustAt(spots, 50 + 11, 40)).toBe(1);
    const data = takeFrame(grey, shot({ sensor: { photonNoise: 0, readNoise: 0, dust: spots } }), WHOLE, 16);
    expect(decode(data[3 * (40 * 160 + 50)]! / 65535)).toBeCloseTo(0.3 * 0.7, 2);
  });
});

describe('the separator', () => {
  it('covers much of the frame with a hand that is far out of focus', () => {
    const scene = stage(wall(0.6, 5000));
    const hand = { ...scene, world: withHand({ ...scene.world, nearMm: 300 }, SIZE.width / FOCAL_PX) };
    const light = renderLight(hand, shot({ focusMm: 5000, lens: { ...LENS, fNumber: 8 } }), WHOLE);
    const dark = light.r.filter((v) => v < 0.4).length / light.r.length;
    expect(dark).toBeGreaterThan(0.15);
    // No edge of the hand is sharp: neighbouring pixels differ by little.
    let step = 0;
    for (let i = 1; i < SIZE.width; i++)
      step = Math.max(step, Math.abs(light.r[60 * 160 + i]! - light.r[60 * 160 + i - 1]!));
    expect(step).toBeLessThan(0.2);
  });
});
