// Seams and layouts of panoramas against known answers.
import type { CameraRig } from '../align';
import { rotationBy } from '../align';
import { findSeams, fieldOfView, layOutPanorama, NO_LABEL, type SeamView } from '.';

const [W, H] = [40, 30];

/** A frame that fills the grid from column x, plain grey but for what `paint` says. */
function seamView(
  x: number,
  width: number,
  middle: number,
  paint: (x: number, y: number) => number = () => 0.5,
): SeamView {
  const samples = 4 * width * H;
  const rgb = new Float32Array(3 * samples);
  for (let c = 0; c < 3; c++)
    for (let j = 0; j < 2 * H; j++)
      for (let i = 0; i < 2 * width; i++) rgb[c * samples + j * 2 * width + i] = paint(x + i / 2, j / 2);
  return {
    x,
    y: 0,
    width,
    height: H,
    rgb,
    valid: new Uint8Array(width * H).fill(1),
    eccentricity: Float32Array.from({ length: width * H }, (_, i) =>
      Math.min(1, Math.abs(x + (i % width) - middle) / (width / 2)),
    ),
  };
}

describe('findSeams', () => {
  it('halves the overlap of frames that agree', () => {
    const { labels, disagreement } = findSeams([seamView(0, 26, 13), seamView(14, 26, 27)], W, H);
    expect(disagreement).toBeLessThan(1e-6);
    for (let y = 0; y < H; y++) {
      const row = [...labels.subarray(y * W, (y + 1) * W)];
      expect(row.slice(0, 14).every((l) => l === 0)).toBe(true);
      expect(row.slice(26).every((l) => l === 1)).toBe(true);
      expect(row.join('')).toMatch(/^0+1+$/);
    }
  });

  it('goes round a thing that only one of the frames shows, without cutting it', () => {
    const thing = (x: number, y: number): number => (Math.abs(x - 20) < 4 && y > 8 && y < 20 ? 0.9 : 0.5);
    const { labels, disagreement } = findSeams([seamView(0, 26, 13), seamView(14, 26, 27, thing)], W, H);
    const there = new Set<number>();
    for (let y = 10; y < 19; y++) for (let x = 17; x < 23; x++) there.add(labels[y * W + x]!);
    expect(there.size).toBe(1);
    expect(disagreement).toBeLessThan(0.02);
  });

  it('crosses a dark cable where it must, once, and leaves cells without picture without a label', () => {
    const cable = (_: number, y: number): number => (Math.abs(y - 15) < 0.6 ? 0.1 : 0.5);
    const { labels } = findSeams([seamView(0, 20, 10, cable), seamView(12, 20, 22, cable)], W, H);
    expect(labels[10 * W + 35]).toBe(NO_LABEL);
    const row = [...labels.subarray(15 * W, 15 * W + 32)].join('');
    expect(row).toMatch(/^0+1+$/);
  });

  it('refuses more frames than there are labels', () => {
    expect(() => findSeams(new Array<SeamView>(256).fill(seamView(0, 4, 2)), W, H)).toThrow('findSeams.views.length');
  });
});

describe('layOutPanorama', () => {
  const sizes = [0, 1, 2].map(() => ({ width: 600, height: 400 }));
  const rig = (step: number): CameraRig => ({
    rotations: [-step, 0, step].map((a) => rotationBy([0, -a, 0])),
    focalPx: [600, 600, 600],
    distortion: [0, 0],
  });
  const down = [0, 1, 0] as const;

  it('a cylinder is as wide as the angle of the set times the focal length, within a px', () => {
    const layout = layOutPanorama(rig(0.5), sizes, down, 'cylindrical')!;
    const angle = 1 + 2 * Math.atan(300 / 600);
    expect(Math.abs(layout.width - 600 * angle)).toBeLessThan(2);
    expect(layout.height).toBe(400);
    expect(fieldOfView(rig(0.5), sizes, down).across).toBeCloseTo(angle, 2);
  });

  it('keeps straight lines straight on a flat canvas and bends them on the others', () => {
    const bends = (['flat', 'cylindrical', 'spherical'] as const).map(
      (p) => layOutPanorama(rig(0.3), sizes, down, p)!.bend,
    );
    expect(bends[0]).toBeLessThan(1e-9);
    expect(bends[1]).toBeGreaterThan(0.01);
    expect(bends[2]).toBeGreaterThan(0.01);
  });

  it('stretches a flat canvas by one over the squared cosine at its sides', () => {
    const layout = layOutPanorama(rig(0.3), sizes, down, 'flat')!;
    const { crop, canvas } = layout;
    const x = Math.max(canvas.axis[0] - crop.x, crop.x + crop.width - canvas.axis[0]);
    const y = Math.max(canvas.axis[1] - crop.y, crop.y + crop.height - canvas.axis[1]);
    const corner = 1 + (x * x + y * y) / 600 ** 2;
    expect(layout.stretch).toBeLessThanOrEqual(corner * 1.01);
    expect(layout.stretch).toBeGreaterThan(1 + (x * x) / 600 ** 2 - 0.05);
  });

  it('has no flat canvas for more than 124°, and crops nothing that is empty', () => {
    expect(layOutPanorama(rig(1), sizes, down, 'flat')).toBeNull();
    const layout = layOutPanorama(rig(0.6), sizes, down, 'cylindrical')!;
    expect(layout.crop.width * layout.crop.height).toBeLessThan(layout.width * layout.height);
    expect(layout.cropLoss).toBeGreaterThan(0);
    expect(layout.coverage).toBeGreaterThan(0.7);
  });
});
