// The instruments against pictures whose edges, lines and tones are known in closed form.
import { SAME_PLACE, similarityGeometry, type AlignedFrame } from '../frame';
import { IDENTITY_TONE } from '../image';
import type { Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { blockSource } from '../testing/pixelSource';
import { edgeProbe, lineProbe, patchProbe, patchSquares, sampleStrip, type Places, type Segment } from '.';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [WIDTH, HEIGHT] = [240, 160];
type Scene = (x: number, y: number) => number | readonly [number, number, number];

/** A picture of a scene: px centres at .5, 16 bits. */
function picture(scene: Scene, place: Partial<AlignedFrame> = {}): AlignedFrame {
  const data = new Uint16Array(WIDTH * HEIGHT * 3);
  for (let y = 0; y < HEIGHT; y++) {
    for (let x = 0; x < WIDTH; x++) {
      const value = scene(x + 0.5, y + 0.5);
      const rgb = typeof value === 'number' ? [value, value, value] : value;
      rgb.forEach((v, c) => (data[3 * (y * WIDTH + x) + c] = Math.round(65535 * Math.min(1, Math.max(0, v)))));
    }
  }
  const source = blockSource(kernels, { width: WIDTH, height: HEIGHT, data });
  return { source, geometry: SAME_PLACE, tone: IDENTITY_TONE, noise: [0, 0], ...place };
}

/** Normal distribution's integral (Abramowitz and Stegun 7.1.26, 1.5e-7). */
function phi(z: number): number {
  const x = Math.abs(z) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const erf =
    1 -
    ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x);
  return z >= 0 ? (1 + erf) / 2 : (1 - erf) / 2;
}

/** Deterministic noise of standard deviation 1. */
function grain(seed: number): () => number {
  let state = seed;
  const next = (): number => ((state = (state * 1664525 + 1013904223) >>> 0) + 0.5) / 2 ** 32;
  return () => Math.sqrt(-2 * Math.log(next())) * Math.cos(2 * Math.PI * next());
}

const strips = (segment: Segment, half: number, ...frames: AlignedFrame[]) =>
  frames.map((frame) => sampleStrip(kernels, frame, segment, half));

describe('a strip', () => {
  it('is cut along any direction, and knows where the picture ends', () => {
    const ramp = picture((x, y) => 0.1 + (x + 2 * y) / 1000);
    const [slanted] = strips({ from: [40, 30], to: [120, 90] }, 3, ramp);
    expect([slanted!.length, slanted!.across]).toEqual([101, 7]);
    // Along (0.8, 0.6) the ramp grows by 2 per px; across, to the right (−0.6, 0.8), by 1.
    expect(slanted!.luma[3 * 101 + 50]! - slanted!.luma[3 * 101]!).toBeCloseTo(0.1, 3);
    expect(slanted!.luma[6 * 101 + 20]! - slanted!.luma[20]!).toBeCloseTo(0.006, 3);
    const [over] = strips({ from: [200, 80], to: [260, 80] }, 2, ramp);
    expect([...over!.valid].indexOf(0)).toBe(41);
  });

  it('lies where the frame does, however long', () => {
    const shifted = picture((x) => 0.2 + x / 1000, {
      geometry: similarityGeometry({ re: 1, im: 0, tx: 12, ty: 0 }),
    });
    const [strip] = strips({ from: [20, 80], to: [230, 80] }, 1, shifted);
    expect(strip!.luma[strip!.length + 100]).toBeCloseTo(0.2 + (120 - 12) / 1000, 3);
  });

  it('refuses segments that say nothing', () => {
    const frame = picture(() => 0.5);
    expect(() => sampleStrip(kernels, frame, { from: [10, 10], to: [12, 10] }, 3)).toThrow('8 to 4000 px');
  });
});

describe('the edge probe', () => {
  const edge =
    (sigma: number, low = 0.3, high = 0.7): Scene =>
    (x) =>
      low + (high - low) * phi((x - 120) / sigma);
  const across: Segment = { from: [80, 80], to: [160, 80] };
  const read = (merge: Scene, ...frames: Scene[]) => {
    const [own, ...others] = strips(across, 3, picture(merge), ...frames.map((f) => picture(f)));
    return edgeProbe(own!, others)!;
  };

  it.each([1.5, 3, 6])('measures 2.563 σ from a tenth to nine tenths: σ = %d px', (sigma) => {
    const { shape } = read(edge(sigma));
    expect(shape.widthPx).toBeGreaterThan(2.563 * sigma * 0.97);
    expect(shape.widthPx).toBeLessThan(2.563 * sigma * 1.05 + 0.2);
    expect(shape.at).toBeCloseTo(40 - 0.5 + 0.5, 0);
  });

  it('finds the band that the merge has beside the edge and the sharpest frame has not', () => {
    const halo: Scene = (x, y) => (edge(1.5)(x, y) as number) + (x < 116 ? 0.06 * Math.exp(-((116 - x) / 10)) : 0);
    const { bands, sharpest } = read(halo, edge(4), edge(1.5));
    expect(sharpest).toBe(1);
    expect(bands).toHaveLength(1);
    expect(bands[0]).toMatchObject({ side: 'before' });
    expect(bands[0]!.heightPercent).toBeGreaterThan(12);
    expect(bands[0]!.heightPercent).toBeLessThan(16);
    // exp(−x/10) has halved after 6.9 px.
    expect(Math.abs(bands[0]!.widthPx - 7)).toBeLessThanOrEqual(1);
  });

  it('sees no band in another tone of the same edge, and no edge where there is none', () => {
    expect(read(edge(1.5, 0.4, 0.6), edge(1.5)).bands).toEqual([]);
    const [flat] = strips(
      across,
      3,
      picture(() => 0.5),
    );
    expect(edgeProbe(flat!, [])).toBeNull();
  });

  it('leaves out frames that do not cover the segment, or show another thing there', () => {
    const away = picture(edge(1), { geometry: similarityGeometry({ re: 1, im: 0, tx: 130, ty: 0 }) });
    const [own, a, b] = strips(across, 3, picture(edge(2)), away, picture(edge(1, 0.7, 0.3)));
    expect(edgeProbe(own!, [a!, b!])!.frameShapes).toEqual([null, null]);
  });
});

describe('the line probe', () => {
  /** A cable of σ 1.5 px, whose height at x is given. */
  const cable =
    (height: (x: number) => number): Scene =>
    (x, y) =>
      0.6 - 0.4 * Math.exp(-(((y - height(x)) / 1.5) ** 2) / 2);
  const along: Segment = { from: [20, 80], to: [220, 80] };
  const labels = Uint8Array.from({ length: 201 }, (_, s) => (s < 100 ? 0 : 1));
  const read = (merge: Scene, frames: Scene[], known = labels) => {
    const [own, ...others] = strips(along, 12, picture(merge), ...frames.map((f) => picture(f)));
    return lineProbe(own!, others, known);
  };
  const straight = (x: number): number => 78 + 0.03 * (x - 120);

  it.each([0.5, -1.4, 3])('measures a cable displaced by %d px at a border', (off) => {
    const broken = read(
      cable((x) => straight(x) + (x > 120 ? off : 0)),
      [cable(straight)],
    )!;
    expect(broken.breaks).toHaveLength(1);
    const [found] = broken.breaks;
    expect(found).toMatchObject({ border: [0, 1], isBroken: true });
    expect(found!.merge.offsetPx).toBeCloseTo(off, 1);
    expect(Math.abs(found!.frame!.offsetPx)).toBeLessThan(0.05);
  });

  it('measures a turn in degrees, on an edge too', () => {
    const bent = (x: number): number => straight(x) + (x > 120 ? Math.tan((2 * Math.PI) / 180) * (x - 120) : 0);
    const edge: Scene = (x, y) => 0.3 + 0.4 * phi((y - bent(x)) / 1.5);
    const whole: Scene = (x, y) => 0.3 + 0.4 * phi((y - straight(x)) / 1.5);
    const [found] = read(edge, [whole])!.breaks;
    expect(found!.merge.kinkDeg).toBeCloseTo(2, 1);
    expect(found!.isBroken).toBe(true);
  });

  it('does not blame the merge for what the scene does', () => {
    const stepped = cable((x) => straight(x) + (x > 120 ? 1.5 : 0));
    const [found] = read(stepped, [stepped])!.breaks;
    expect(found!.merge.offsetPx).toBeCloseTo(1.5, 1);
    expect(found!.isBroken).toBe(false);
  });

  it('finds a plain break where no border is known', () => {
    const unknown = new Uint8Array(201).fill(255);
    const broken = read(
      cable((x) => straight(x) + (x > 150 ? 1 : 0)),
      [cable(straight)],
      unknown,
    )!;
    expect(broken.breaks).toHaveLength(1);
    expect(broken.breaks[0]!.border).toBeNull();
    expect(Math.abs(broken.breaks[0]!.at - 130)).toBeLessThan(6);
    expect(read(cable(straight), [cable(straight)], unknown)!.breaks).toEqual([]);
  });

  it('holds under noise: no break in a straight cable, a whole px is found', () => {
    const noise = grain(7);
    const noisy =
      (height: (x: number) => number): Scene =>
      (x, y) =>
        (cable(height)(x, y) as number) + 0.02 * noise();
    expect(read(noisy(straight), [noisy(straight)])!.breaks.filter((b) => b.isBroken)).toEqual([]);
    const [found] = read(
      noisy((x) => straight(x) + (x > 120 ? 1 : 0)),
      [noisy(straight)],
    )!.breaks;
    expect(found!.isBroken).toBe(true);
    expect(Math.abs(found!.merge.offsetPx - 1)).toBeLessThan(0.15);
  });

  it('says when there is no line', () => {
    expect(read(() => 0.5, [])).toBeNull();
  });
});

describe('the patch probe', () => {
  const segment: Segment = { from: [80, 80], to: [160, 80] };
  const places = (frame: AlignedFrame): Places => {
    const { rows, halfPx } = patchSquares(segment);
    return [sampleStrip(kernels, frame, rows[0], halfPx), sampleStrip(kernels, frame, rows[1], halfPx)];
  };
  const read = (merge: Scene, ...frames: Scene[]) =>
    patchProbe(
      places(picture(merge)),
      frames.map((f) => places(picture(f))),
    );

  it('compares tone, and what of a step is the merge’s own', () => {
    const slope = (x: number): number => 0.4 + (x - 120) / 1000;
    const seam: Scene = (x) => slope(x) + (x > 120 ? 0.05 : 0);
    const { merge, frames, ownStep, sidePx } = read(seam, slope, seam);
    expect(sidePx).toBe(39);
    expect(merge.to.colour[0] - merge.from.colour[0]).toBeCloseTo(0.05 + 0.08, 3);
    expect(merge.difference).toBeGreaterThan(frames[0]!.difference);
    expect(ownStep[1]).toBeCloseTo(0, 2);
    // 0.05 of full scale in a mid grey is about five L* units.
    expect(ownStep[0]).toBeGreaterThan(3.5);
    expect(ownStep[0]).toBeLessThan(6.5);
  });

  it('measures grain apart from tone', () => {
    const noise = grain(3);
    const { merge } = read((x) => 0.5 + (x > 120 ? 0.03 : 0.01) * noise());
    expect(Math.abs(merge.from.grain / 0.01 - 1)).toBeLessThan(0.15);
    expect(Math.abs(merge.to.grain / 0.03 - 1)).toBeLessThan(0.15);
  });

  it('leaves out frames that do not cover both places', () => {
    const away = picture(() => 0.5, { geometry: similarityGeometry({ re: 1, im: 0, tx: 100, ty: 0 }) });
    expect(patchProbe(places(picture(() => 0.4)), [places(away)]).frames).toEqual([null]);
  });
});
