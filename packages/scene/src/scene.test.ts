// The simulated camera against optics, and the truth it returns.
import {
  blurDiameterPx,
  cellDepths,
  DEFAULT_CAMERA,
  discBlur,
  gatherTruth,
  imageDistanceMm,
  lampScene,
  makeRandom,
  openStudio,
  planShots,
  shootFrame,
  cellGrid,
} from './index';

describe('optics', () => {
  it('gives the blur disc of the thin-lens formula: 24 mm, f/8, focused at 1 m, a point at 0.4 m → 0.1107 mm', () => {
    const camera = { ...DEFAULT_CAMERA, focalLengthMm: 24, fNumber: 8, pixelPitchMm: 1 };
    expect(blurDiameterPx(camera, 400, 1000)).toBeCloseTo(0.1107, 4);
  });

  it('breathes by 1.0667 between 400 and 500 mm with 100 mm', () => {
    const camera = { ...DEFAULT_CAMERA, focalLengthMm: 100 };
    expect(imageDistanceMm(camera, 400) / imageDistanceMm(camera, 500)).toBeCloseTo(1.0667, 4);
  });

  it('steps evenly in dioptres and shows more of the scene at far focus', () => {
    const shots = planShots(DEFAULT_CAMERA, 300, 348, 5, 1, 600, 450);
    const dioptres = shots.map((s) => 1000 / s.focusMm);
    for (let k = 2; k < 5; k++) expect(dioptres[k]! - dioptres[k - 1]!).toBeCloseTo(dioptres[1]! - dioptres[0]!, 6);
    expect(shots[4]!.toFrame.re).toBeLessThan(shots[0]!.toFrame.re);
  });
});

describe('discBlur', () => {
  const random = makeRandom(3);
  const data = Uint16Array.from({ length: 40 * 30 }, () => 30000 * random());

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
      expect(Math.abs(out[y * 40 + x]! - sum / n)).toBeLessThan(600);
    }
  });

  it('keeps the light of a point', () => {
    const point = new Uint16Array(41 * 41);
    point[20 * 41 + 20] = 60000;
    const total = discBlur({ width: 41, height: 41, data: point }, () => 6).reduce((a, b) => a + b, 0);
    expect(total / 60000).toBeGreaterThan(0.98);
    expect(total / 60000).toBeLessThan(1.02);
  });

  it('copies below a third of a pixel', () => {
    expect(discBlur({ width: 40, height: 30, data }, () => 0.2)).toEqual(data);
  });
});

describe('the lamp scene', () => {
  const size = { width: 160, height: 120 };
  const studio = openStudio(lampScene(4, 0.75), DEFAULT_CAMERA, size.width, size.height, 4, 4);
  const frames = [0, 1, 2, 3].map((k) => shootFrame(studio, k, 8));

  it('is the same for the same seed and differs for another', () => {
    const again = openStudio(lampScene(4, 0.75), DEFAULT_CAMERA, size.width, size.height, 4, 4);
    expect(shootFrame(again, 1, 8).pixels).toEqual(frames[1]!.pixels);
    const other = openStudio(lampScene(5, 0.75), DEFAULT_CAMERA, size.width, size.height, 4, 4);
    expect(shootFrame(other, 1, 8).pixels).not.toEqual(frames[1]!.pixels);
  });

  it('lies between the nearest and farthest focus, and has parts near both', () => {
    const depths = cellDepths(studio);
    expect(Math.min(...depths)).toBeLessThan(studio.scene.nearMm + 5);
    expect(Math.max(...depths)).toBeGreaterThan(studio.scene.farMm - 8);
    expect(Math.min(...depths)).toBeGreaterThanOrEqual(studio.scene.nearMm);
  });

  it('names as best frame, in most cells, one whose focus is nearest in depth', () => {
    const truth = gatherTruth(cellGrid(size.width, size.height), cellDepths(studio), frames);
    let [near, all] = [0, 0];
    truth.best.forEach((best, i) => {
      const textured = Math.max(...truth.cellErrors.map((e) => e[i]!)) > 1e-3;
      if (!textured) return;
      all++;
      const closest = truth.focusMm.reduce(
        (k, f, j) => (Math.abs(f - truth.depthMm[i]!) < Math.abs(truth.focusMm[k]! - truth.depthMm[i]!) ? j : k),
        0,
      );
      if (Math.abs(best - closest) <= 1) near++;
    });
    expect(near / all).toBeGreaterThan(0.8);
  });
});
