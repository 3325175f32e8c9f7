// Detectors and trace on stacks built in code: a known fault in, the finding out; a clean merge in, nothing out.
import { FULL_SIZE } from '../cells';
import { similarityGeometry } from '../frame';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, gaussianBlur } from '../testing/pictures';
import { blurredSeries, frameOf, occludedSeries, pasteRect, STACK_NOISE } from '../testing/stack';
import { traceDetection } from '../trace';
import { gatherCells, sharpestFrames, type CellStack } from '../cells';
import { focusAxis, nearSideOf } from '../defocus';
import { explainCells, NONE_OF_THEM } from '../provenance';
import type { Kernels } from '../kernels';
import type { Plane } from '../image';
import { calibrate, detectorsFor, evidenceOf, findDefects, measureRegion, type SetFacts } from './index';

const W = 320;
const H = 256;
const REGION = { x: 0, y: 0, width: W, height: H };
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

function inspect(merge: Plane, planes: readonly Plane[], positions: readonly number[]) {
  const frames = planes.map((p) => frameOf(kernels, p));
  const stack = gatherCells(kernels, frameOf(kernels, merge), frames, REGION);
  return { stack, ...findIn(stack, positions) };
}

function findIn(stack: CellStack, positions: readonly number[]) {
  const facts: SetFacts = {
    kind: 'focus-stack',
    axis: { positions, source: 'breathing' },
    grain: null,
    inside: null,
    working: FULL_SIZE,
    surveys: {},
  };
  const { maps, samples } = measureRegion(stack, facts);
  const yardsticks = calibrate(facts.kind, [samples]);
  const evidence = evidenceOf(maps, facts, yardsticks);
  return { maps, evidence, yardsticks, found: findDefects(evidence) };
}

describe('soft patches', () => {
  const focus = [0, 1, 2, 3, 4];
  const planes = blurredSeries(W, H, 5, 2, focus);

  it('finds the place where the mask took a frame two steps off, hugs it, and names the sharp frame as donor', () => {
    const merge = pasteRect(planes[2]!, planes[4]!, 96, 80, 88, 72);
    const { found, stack, maps, yardsticks } = inspect(merge, planes, focus);
    expect(found.map((d) => d.defect)).toEqual(['soft-patch']);
    const { bbox, confidence } = found[0]!;
    expect(Math.abs(bbox.x - 96) + Math.abs(bbox.y - 80)).toBeLessThan(24);
    expect(bbox.width * bbox.height).toBeLessThan(1.5 * 88 * 72);
    expect(confidence).toBeGreaterThan(0.7);
    const traced = traceDetection(found[0]!, stack, maps.width, yardsticks, ['a', 'b', 'c', 'd', 'e']);
    expect(traced.donor).toBe(2);
    expect(traced.repairable).toBe(true);
    expect(traced.gain).toBeGreaterThan(1.5);
    expect(traced.cause).toBe('The mask took e, which is out of focus here; c shows this place sharp.');
  });

  it('reports nothing in a clean merge', () => {
    expect(inspect(planes[2]!, planes, focus).found).toEqual([]);
  });

  it('is looked for again in a merge inspected before some layers were measured, which are left out', () => {
    const merge = pasteRect(planes[2]!, planes[4]!, 96, 80, 88, 72);
    const { maps, yardsticks } = inspect(merge, planes, focus);
    const facts: SetFacts = {
      ...{ kind: 'focus-stack', axis: { positions: focus, source: 'breathing' } },
      ...{ grain: null, inside: null, working: FULL_SIZE, surveys: {} },
    };
    const { crumbs: _crumbs, colourEdges: _edges, ...known } = yardsticks;
    const before = evidenceOf(maps, facts, { ...known, unexplained: null });
    expect(findDefects(before).map((d) => d.defect)).toEqual(['soft-patch']);
    expect(detectorsFor('focus-stack', (layer) => before.knows(layer)).map((d) => d.defect)).not.toContain(
      'mask-speckle',
    );
  });

  it('is not misled when fine texture was taken for noise in the merge', () => {
    const frames = planes.map((p) => frameOf(kernels, p));
    const noisy = { ...frameOf(kernels, planes[2]!), noise: new Array<number>(8).fill((8 * STACK_NOISE) ** 2) };
    expect(findIn(gatherCells(kernels, noisy, frames, REGION), focus).found).toEqual([]);
  });

  it('leaves a place that no frame explains to others', () => {
    const shifted = {
      ...planes[2]!,
      data: planes[2]!.data.map((_, i) => planes[2]!.data[Math.min(W * H - 1, i + 9)]!),
    };
    const { stack, found } = inspect(pasteRect(planes[2]!, shifted, 96, 80, 88, 72), planes, focus);
    expect(found.filter((d) => d.defect === 'soft-patch')).toEqual([]);
    const { labels } = explainCells(stack);
    expect(labels[(28 * W) / 4 + 32]).toBe(NONE_OF_THEM);
    expect(labels[(4 * W) / 4 + 6]).toBe(2);
  });
});

describe('misplaced parts', () => {
  const focus = [0, 1, 2, 3, 4];
  const planes = blurredSeries(W, H, 21, 2, focus);
  const moved = (by: number): Plane => ({
    ...planes[2]!,
    data: planes[2]!.data.map((_, i) => planes[2]!.data[Math.min(W * H - 1, i + by)]!),
  });

  it('finds a part that lies 8 px off, hugs it, and takes the frame that has the place sharp as donor', () => {
    const { found, stack, maps, yardsticks } = inspect(pasteRect(planes[2]!, moved(8), 96, 80, 88, 72), planes, focus);
    expect(found.map((d) => d.defect)).toEqual(['misalignment']);
    expect(found[0]!.bbox.width * found[0]!.bbox.height).toBeLessThan(1.5 * 88 * 72);
    const traced = traceDetection(found[0]!, stack, maps.width, yardsticks, ['a', 'b', 'c', 'd', 'e']);
    expect(traced.donor).toBe(2);
    expect(traced.cause).toContain('No frame shows this part here');
  });

  it('finds an edge that is broken over 56 px, though all else there is even', () => {
    const even = {
      width: W,
      height: H,
      data: Float32Array.from({ length: W * H }, (_, i) => (i % W < 128 ? 0.35 : 0.6)),
    };
    const series = focus.map((f) =>
      addNoise(f === 2 ? even : gaussianBlur(even, Math.abs(f - 2)), STACK_NOISE, 40 + f),
    );
    const off = { ...even, data: series[2]!.data.map((_, i) => series[2]!.data[Math.min(W * H - 1, i + 6)]!) };
    const { found } = inspect(pasteRect(series[2]!, off, 96, 100, 64, 56), series, focus);
    expect(found.map((d) => d.defect)).toEqual(['misalignment']);
    const { x, y, width, height } = found[0]!.bbox;
    expect([x > 90, x + width < 166, y >= 92, y + height <= 164]).toEqual([true, true, true, true]);
    expect(inspect(series[2]!, series, focus).found).toEqual([]);
  });

  it('explains a merge that mixes frames along a mask border, and one toned by 5 %', () => {
    const feathered = pasteRect(planes[2]!, planes[3]!, 96, 80, 88, 72);
    for (let y = 80; y < 152; y++) {
      for (let x = 92; x < 100; x++) {
        const i = y * W + x;
        feathered.data[i] = (planes[2]!.data[i]! + planes[3]!.data[i]!) / 2;
      }
    }
    const toned = { ...planes[2]!, data: planes[2]!.data.map((v) => v * 1.05) };
    for (const merge of [feathered, toned]) {
      const { found } = inspect(merge, planes, focus);
      expect(found.filter((d) => d.defect === 'misalignment')).toEqual([]);
    }
  });
});

describe('halos', () => {
  const planes = occludedSeries(W, H, 160, 31, 6);
  const focus = planes.map((_, k) => k);
  // The near half from its frame; the far half beside it from the frame focused on it, light and all.
  const spilling = pasteRect(planes[0]!, planes[5]!, 160, 0, W - 160, H);

  it('finds the near half spread over the far one, beside the edge only, and names a frame that spreads less', () => {
    const { found, stack, maps, yardsticks } = inspect(spilling, planes, focus);
    const halos = found.filter((d) => d.defect === 'halo');
    expect(halos.length).toBeGreaterThanOrEqual(1);
    for (const halo of halos) {
      expect(halo.bbox.x).toBeGreaterThanOrEqual(148);
      expect(halo.bbox.x + halo.bbox.width).toBeLessThanOrEqual(200);
    }
    const height = halos.reduce((sum, h) => sum + h.bbox.height, 0);
    expect(height).toBeGreaterThan(0.7 * H);
    const traced = traceDetection(halos[0]!, stack, maps.width, yardsticks, [...'abcdef']);
    expect(traced.donor).toBeLessThanOrEqual(2);
    expect(traced.repairable).toBe(true);
  });

  it('finds nothing beside the edge when the far half comes from the frame without spread light', () => {
    expect(inspect(planes[0]!, planes, focus).found.filter((d) => d.defect === 'halo')).toEqual([]);
  });
});

describe('focus gaps', () => {
  // Focus 2 was never shot: neighbours are one step away on both sides.
  const focus = [0, 1, 3, 4, 5];
  const missed = blurredSeries(W, H, 8, 2, focus);
  const covered = blurredSeries(W, H, 8, 1, focus);
  const join = (k: number): Plane => pasteRect(covered[k]!, missed[k]!, 96, 72, 128, 96);

  it('tells a slice that was never shot from a soft patch, and that it cannot be repaired', () => {
    const { found, stack, maps, yardsticks } = inspect(
      join(1),
      focus.map((_, k) => join(k)),
      focus,
    );
    expect(found.map((d) => d.defect)).toEqual(['focus-gap']);
    expect(found[0]!.measurements['frameBefore']!.value).toBe(1);
    const traced = traceDetection(found[0]!, stack, maps.width, yardsticks, ['a', 'b', 'c', 'd', 'e']);
    expect(traced.donor).toBeNull();
    expect(traced.repairable).toBe(false);
    expect(traced.cause).toContain('the slice between b and c was never shot');
  });

  it('reports a gap that fills the picture in parts, none over a quarter of it', () => {
    const { found, maps } = inspect(missed[1]!, missed, focus);
    expect(found.length).toBeGreaterThanOrEqual(4);
    for (const { defect, bbox } of found) {
      expect(defect).toBe('focus-gap');
      expect(bbox.width * bbox.height).toBeLessThanOrEqual((W * H) / 4);
    }
    const covered = new Set(found.flatMap((f) => f.cells));
    expect(covered.size).toBeGreaterThan(0.6 * maps.width * maps.height);
  });

  it('finds no gap where every slice was shot', () => {
    expect(inspect(covered[1]!, covered, focus).found).toEqual([]);
  });
});

describe('provenance and the focus axis', () => {
  it('names the sharpest frame of textured cells', () => {
    const planes = blurredSeries(W, H, 12, 1, [0, 1, 2]);
    const best = sharpestFrames(
      gatherCells(
        kernels,
        null,
        planes.map((p) => frameOf(kernels, p)),
        REGION,
      ),
    );
    expect(best.filter((b) => b === 1).length / best.length).toBeGreaterThan(0.99);
  });

  const scaled = (re: number) => ({
    geometry: similarityGeometry({ re, im: 0, tx: 0, ty: 0 }),
    width: 600,
    height: 400,
  });

  it('reads a double step from the breathing of the lens', () => {
    const scales = [1, 1.003, 1.006, 1.012, 1.015];
    const axis = focusAxis(scales.map(scaled));
    expect(axis.source).toBe('breathing');
    expect(axis.positions[3]! - axis.positions[2]!).toBeCloseTo(2, 1);
  });

  it('assumes equal steps for a lens that does not breathe', () => {
    const axis = focusAxis([1, 1.00001, 0.99999].map(scaled));
    expect(axis).toEqual({ positions: [0, 1, 2], source: 'equal-steps' });
  });

  it('gives the near side to the majority', () => {
    expect(nearSideOf({ first: 3, last: 9 })).toBe('last');
    expect(nearSideOf({ first: 0, last: 0 })).toBe('first');
  });

  it('refuses a region off the cell grid', () => {
    const frame = frameOf(kernels, blurredSeries(64, 64, 1, 0, [0])[0]!);
    expect(() => gatherCells(kernels, null, [frame], { x: 2, y: 0, width: 64, height: 64 })).toThrow(
      'gatherCells.region: expected multiples of 4 px',
    );
    expect(() => gatherCells(kernels, null, [], { x: 0, y: 0, width: 64, height: 64 })).toThrow(
      'gatherCells.frames.length',
    );
  });
});
