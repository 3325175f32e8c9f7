// SSIM against its definition, window by window.
import { structuralSimilarity } from './structuralSimilarity';

const W = 40;
const H = 30;
const a = Float32Array.from({ length: W * H }, (_, i) => 0.5 + 0.4 * Math.sin(i * 0.37) * Math.cos(i * 0.011));
const b = a.map((v, i) => v + 0.08 * Math.sin(i * 1.7));

/** The definition, one window at a time. */
function slow(p: Float32Array, q: Float32Array): number {
  let [sum, n] = [0, 0];
  for (let y = 0; y + 7 <= H; y++) {
    for (let x = 0; x + 7 <= W; x++) {
      const at = Array.from({ length: 49 }, (_, k) => (y + Math.floor(k / 7)) * W + x + (k % 7));
      const mean = (f: (i: number) => number): number => at.reduce((s, i) => s + f(i), 0) / 49;
      const [mp, mq] = [mean((i) => p[i]!), mean((i) => q[i]!)];
      const vp = mean((i) => (p[i]! - mp) ** 2);
      const vq = mean((i) => (q[i]! - mq) ** 2);
      const cov = mean((i) => (p[i]! - mp) * (q[i]! - mq));
      sum += ((2 * mp * mq + 1e-4) * (2 * cov + 9e-4)) / ((mp * mp + mq * mq + 1e-4) * (vp + vq + 9e-4));
      n++;
    }
  }
  return sum / n;
}

describe('structuralSimilarity', () => {
  it('is 1 for equal pictures', () => {
    expect(structuralSimilarity(a, a, W, H, 0)).toBeCloseTo(1, 9);
  });

  it('equals the definition within a millionth', () => {
    expect(structuralSimilarity(a, b, W, H, 0)).toBeCloseTo(slow(a, b), 6);
  });

  it('falls with noise and leaves out the border', () => {
    const noisy = a.map((v, i) => v + 0.2 * Math.sin(i * 2.9));
    expect(structuralSimilarity(a, noisy, W, H, 0)).toBeLessThan(structuralSimilarity(a, b, W, H, 0));
    const rim = a.map((v, i) => (i % W < 4 || i % W >= W - 4 || i < 4 * W || i >= (H - 4) * W ? 0 : v));
    expect(structuralSimilarity(a, rim, W, H, 4)).toBeCloseTo(1, 9);
    expect(structuralSimilarity(a, rim, W, H, 0)).toBeLessThan(0.9);
  });
});
