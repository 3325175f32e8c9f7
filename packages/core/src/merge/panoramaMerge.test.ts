// Seams and layouts of panoramas against known answers.
import type { CameraRig } from '../align';
import { rotationBy } from '../align';
import { cutLayout, fieldOfView, findSeams, layOutPanorama, NO_LABEL, type PanoramaFrames, type SeamView } from '.';
import { composeMatrix, mergeToFrame } from '../frame';

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
    softness: 0,
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

  it('shows a soft frame only where no other covers, and one that is hardly softer as any other', () => {
    const [left, middle, right] = [seamView(0, 18, 9), seamView(8, 24, 20), seamView(22, 18, 31)];
    const cellsOfMiddle = (softness: number): number[] => {
      const { labels } = findSeams([left, { ...middle, softness }, right], W, H);
      return [...labels.subarray(10 * W, 11 * W).entries()].flatMap(([x, l]) => (l === 1 ? [x] : []));
    };
    // One cell more on either side: a seam lies where both have picture.
    expect(cellsOfMiddle(3)).toEqual([17, 18, 19, 20, 21, 22]);
    expect(cellsOfMiddle(0.2)).toEqual(cellsOfMiddle(0));
    expect(cellsOfMiddle(0).length).toBeGreaterThan(10);
  });

  it('cuts no moving thing for the sake of sharpness', () => {
    const thing = (x: number, y: number): number => (Math.abs(x - 20) < 4 && y > 8 && y < 20 ? 0.9 : 0.5);
    const soft = { ...seamView(0, 26, 13, thing), softness: 1 };
    const { disagreement } = findSeams([soft, seamView(14, 26, 27)], W, H);
    expect(disagreement).toBeLessThan(0.02);
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
  const set = (step: number): PanoramaFrames => ({ rig: rig(step), sizes, down });

  it('a cylinder is as wide as the angle of the set times the focal length, within a px', () => {
    const layout = layOutPanorama(set(0.5), 'cylindrical')!;
    const angle = 1 + 2 * Math.atan(300 / 600);
    expect(Math.abs(layout.width - 600 * angle)).toBeLessThan(2);
    expect(layout.height).toBe(400);
    expect(fieldOfView(set(0.5)).across).toBeCloseTo(angle, 2);
  });

  it('keeps straight lines straight on a flat canvas and bends them on the others', () => {
    const bends = (['flat', 'cylindrical', 'spherical'] as const).map((p) => layOutPanorama(set(0.3), p)!.bend);
    expect(bends[0]).toBeLessThan(1e-9);
    expect(bends[1]).toBeGreaterThan(0.01);
    expect(bends[2]).toBeGreaterThan(0.01);
  });

  it('stretches a flat canvas by one over the squared cosine at its sides', () => {
    const layout = layOutPanorama(set(0.3), 'flat')!;
    const { crop, views } = layout;
    const [view] = views;
    if (view?.model !== 'rotating-camera') throw new Error('a flat canvas shows turned cameras');
    const [ax, ay] = view.canvas.axis;
    const x = Math.max(ax - crop.x, crop.x + crop.width - ax);
    const y = Math.max(ay - crop.y, crop.y + crop.height - ay);
    const corner = 1 + (x * x + y * y) / 600 ** 2;
    expect(layout.stretch).toBeLessThanOrEqual(corner * 1.01);
    expect(layout.stretch).toBeGreaterThan(1 + (x * x) / 600 ** 2 - 0.05);
  });

  it('has no flat canvas for more than 120°, and crops nothing that is empty', () => {
    expect(layOutPanorama(set(1), 'flat')).toBeNull();
    const layout = layOutPanorama(set(0.6), 'cylindrical')!;
    expect(layout.crop.width * layout.crop.height).toBeLessThan(layout.width * layout.height);
    expect(layout.cropLoss).toBeGreaterThan(0);
    expect(layout.coverage).toBeGreaterThan(0.7);
  });

  it('judges bending on the lines that were found: one along the horizon stays straight on a cylinder, one above it does not', () => {
    const horizon = [
      [],
      [[20, 200, 580, 200] as const, [20, 200, 300, 200] as const, [300, 200, 580, 200] as const],
      [],
    ];
    const above = horizon.map((lines) => lines.map(([x, , u]) => [x, 40, u, 40] as const));
    expect(layOutPanorama({ ...set(0.3), lines: horizon }, 'cylindrical')!.bend).toBeLessThan(1e-9);
    // Rays at height v/f over azimuth a lie at f·(v/f)·cos a on a cylinder: the sagitta over the half angle, over the chord.
    const half = Math.atan(280 / 600);
    const sagitta = 160 * (1 - Math.cos(half));
    const chord = 2 * 600 * half;
    expect(layOutPanorama({ ...set(0.3), lines: above }, 'cylindrical')!.bend).toBeCloseTo(sagitta / chord, 4);
  });

  it('cuts a layout without moving what it shows', () => {
    for (const name of ['cylindrical', 'repositioned'] as const) {
      const whole = layOutPanorama(set(0.4), name)!;
      const cut = cutLayout(whole, { x: 31, y: 12, width: 200, height: 150 });
      const there = mergeToFrame(whole.views[1]!, 131.5, 62.5)!;
      const here = mergeToFrame(cut.views[1]!, 100.5, 50.5)!;
      expect(Math.hypot(here[0] - there[0], here[1] - there[1])).toBeLessThan(1e-9);
    }
  });
});

describe('frames repositioned', () => {
  const sizes = [0, 1, 2].map(() => ({ width: 600, height: 400 }));
  const turnedBy = (rotations: CameraRig['rotations'], focalPx = [600, 600, 600]): PanoramaFrames => ({
    rig: { rotations, focalPx, distortion: [0.02, 0] },
    sizes,
    down: [0, 1, 0],
  });
  const level = [-0.3, 0, 0.3].map((a) => rotationBy([0, -a, 0]));

  it('bends nothing and stretches nothing, but says how far neighbours miss each other', () => {
    const layout = layOutPanorama(
      { ...turnedBy(level), rig: { ...turnedBy(level).rig, distortion: [0, 0] } },
      'repositioned',
    )!;
    expect(layout.bend).toBeLessThan(1e-9);
    expect(layout.stretch).toBe(1);
    // A turn by 0.3 rad moves the middle by f·tan 0.3 = 186 px, things 0.3 off the axis by less or more: px, not tenths of px.
    expect(layout.misfitPx).toBeGreaterThan(4);
    expect(layout.misfitPx).toBeLessThan(60);
    // The narrower the turn, the less there is to miss: to the second order of it.
    const narrow = layOutPanorama(turnedBy([-0.03, 0, 0.03].map((a) => rotationBy([0, -a, 0]))), 'repositioned')!;
    expect(narrow.misfitPx).toBeLessThan(layout.misfitPx / 3);
  });

  it('keeps every frame at its own size, a longer focal length smaller', () => {
    const layout = layOutPanorama(turnedBy(level, [600, 600, 660]), 'repositioned')!;
    const scales = layout.views.map((v) => {
      const [a, b] = [mergeToFrame(v, 300, 200)!, mergeToFrame(v, 301, 200)!];
      return Math.hypot(b[0] - a[0], b[1] - a[1]);
    });
    expect(scales[0]).toBeCloseTo(1, 9);
    expect(scales[1]).toBeCloseTo(1, 9);
    expect(scales[2]).toBeCloseTo(1.1, 9);
  });

  it('stands upright though the camera was rolled', () => {
    const roll = rotationBy([0, 0, 0.1]);
    const rolled = layOutPanorama(turnedBy(level.map((r) => composeMatrix(roll, r))), 'repositioned')!;
    const [a, b] = [mergeToFrame(rolled.views[1]!, 500, 200)!, mergeToFrame(rolled.views[1]!, 501, 200)!];
    expect(Math.abs(Math.atan2(b[1] - a[1], b[0] - a[0]))).toBeCloseTo(0.1, 2);
  });
});
