// From a detection to frames, donor and words: on stacks of cells whose answer is known.
import type { Detection } from '../inspect';
import type { CellFrame, CellStack } from '../cells';
import { rankDonors, tiedDonors, traceDetection, type TracedFinding } from '.';

const [W, H] = [24, 20];
const GRID = 40;
const flat = (v: number): Float32Array => new Float32Array(W * H).fill(v);

/** A frame with so much detail everywhere, so far from the merge. */
function frame(detail: number, residual: number, valid = 1): CellFrame {
  return {
    fine: flat(detail),
    middle: flat(detail),
    coarse: flat(detail / 2),
    residual: flat(residual),
    mean: [flat(0.5), flat(0.5), flat(0.5)],
    valid: new Uint8Array(W * H).fill(valid),
    relation: null,
  };
}

/** A merge of blurred frame 0, although frame 2 is sharp; the region begins at cell (4, 8) of the picture. */
function stackOf(frames: readonly CellFrame[], mergeDetail = 1e-5): CellStack {
  const { residual: _, relation: __, ...merge } = frame(mergeDetail, 0);
  return {
    unitPx: 1,
    region: { x: 16, y: 32, width: 4 * W, height: 4 * H },
    width: W,
    height: H,
    merge,
    frames,
    unexplained: flat(0),
    noise: [1e-6, 1e-6],
    noiseMiddle: flat(1e-7),
    grain: null,
    picked: new Uint8Array(W * H),
  };
}

/** Cells of the picture's grid, 6 × 5 of them, inside the region. */
function detection(defect: Detection['defect'], measurements: Detection['measurements'] = {}): Detection {
  const cells = Array.from({ length: 30 }, (_, n) => (8 + 6 + Math.floor(n / 6)) * GRID + 4 + 8 + (n % 6));
  return {
    defect,
    cells,
    bbox: { x: 48, y: 56, width: 24, height: 20 },
    polygon: [
      [48, 56],
      [72, 56],
      [72, 76],
    ],
    confidence: 0.9,
    measurements,
  };
}

const YARDSTICKS = { spill: { nearSide: 'first', nearSideSure: 1 } };
const NAMES = ['a.tif', 'b.tif', 'c.tif'];
const soft = frame(1e-5, 1e-9);
const middling = frame(1e-4, 4e-4);
const sharp = frame(9e-4, 9e-4);

describe('traceDetection', () => {
  it('names the frame shown, the sharp one as donor, and by how much it is sharper', () => {
    const traced = traceDetection(detection('soft-patch'), stackOf([soft, middling, sharp]), GRID, YARDSTICKS, NAMES);
    expect(traced.donor).toBe(2);
    expect(traced.repairable).toBe(true);
    expect(traced.frames.map((f) => f.shownShare)).toEqual([1, 0, 0]);
    expect(traced.frames.map((f) => Number(f.sharpness.toFixed(2)))).toEqual([0.11, 0.33, 1]);
    // Detail is energy, the gain is of amplitude: √(9e-4 / 1e-5).
    expect(traced.gain).toBeCloseTo(Math.sqrt(90), 1);
    expect(traced.cause).toBe('The mask took a.tif, which is out of focus here; c.tif shows this place sharp.');
    expect(traced.severity).toBeGreaterThan(0);
  });

  it('takes no donor that does not cover the place, however sharp', () => {
    const traced = traceDetection(
      detection('soft-patch'),
      stackOf([soft, middling, frame(9e-4, 9e-4, 0)]),
      GRID,
      YARDSTICKS,
      NAMES,
    );
    expect(traced.donor).toBe(1);
    expect(traced.frames[2]!.coverage).toBe(0);
  });

  it.each([
    [0, 'the slice between a.tif and b.tif was never shot'],
    [-1, 'The series starts behind this place'],
    [2, 'The series ends before this place'],
  ])('a focus gap after frame %s is not repairable, and says which slice is missing', (frameBefore, words) => {
    const gap = detection('focus-gap', {
      frameBefore: { value: frameBefore, unit: 'index' },
      unresolvedBlur: { value: 0.9, unit: 'px' },
    });
    const traced = traceDetection(gap, stackOf([soft, middling, sharp]), GRID, YARDSTICKS, NAMES);
    expect([traced.repairable, traced.donor]).toEqual([false, null]);
    expect(traced.cause).toContain(words);
  });

  it('a focus gap where there is no texture takes nothing away that anybody could see; in texture it does', () => {
    const gap = detection('focus-gap', {
      frameBefore: { value: 0, unit: 'index' },
      unresolvedBlur: { value: 0.9, unit: 'px' },
    });
    const isSeen = (detail: number): boolean => {
      const smooth = frame(detail, detail);
      return traceDetection(gap, stackOf([smooth, smooth, smooth]), GRID, YARDSTICKS, NAMES).isVisible;
    };
    expect([isSeen(1e-6), isSeen(1e-5), isSeen(1e-4), isSeen(9e-4)]).toEqual([false, false, true, true]);
    // The same holds for what can be repaired; it is told, for whoever asks for that too.
    const faint = frame(1e-6, 1e-6);
    const fainter = frame(1e-7, 1e-9);
    const stack = stackOf([fainter, faint, fainter], 1e-7);
    const patch = traceDetection(detection('soft-patch'), stack, GRID, YARDSTICKS, NAMES);
    expect([patch.isVisible, patch.isReal]).toEqual([false, true]);
  });

  it('a soft patch of which no frame has more detail than the merge is none, in whatever tone it spoke', () => {
    const against = (merged: number, best: number): TracedFinding => {
      const frames = [frame(merged, 1e-9), frame(best, 1e-3), frame(merged, 1e-9)];
      return traceDetection(detection('soft-patch'), stackOf(frames, merged), GRID, YARDSTICKS, NAMES);
    };
    const even = against(1e-4, 1.1e-4);
    expect([even.isReal, even.isVisible]).toEqual([false, false]);
    expect(against(1e-4, 4e-4)).toMatchObject({ isReal: true, donor: 1 });
  });

  it('a halo for which every other frame is soft all around is none: the merge shows a sharp thing', () => {
    const halo = { ...detection('halo', { spreadLight: { value: 5, unit: '%' } }), shownBy: [0] };
    const plate = frame(9e-4, 1e-9);
    const traced = traceDetection(halo, stackOf([plate, soft, soft], 9e-4), GRID, YARDSTICKS, NAMES);
    expect([traced.isReal, traced.isVisible]).toEqual([false, false]);
    // A donor with as much detail as the merge may well have less of the light.
    const clear = traceDetection(halo, stackOf([plate, frame(9e-4, 1e-3), soft], 9e-4), GRID, YARDSTICKS, NAMES);
    expect([clear.isReal, clear.donor]).toEqual([true, 1]);
  });

  describe('where one frame shows another moment', () => {
    const moved = (of: CellFrame): CellFrame => ({ ...of, mean: [flat(0.7), flat(0.65), flat(0.6)] });
    const names = ['a.tif', 'b.tif', 'c.tif', 'd.tif', 'e.tif'];
    const trace = (frames: CellFrame[], merged: number) =>
      traceDetection(detection('soft-patch'), stackOf(frames, merged), GRID, YARDSTICKS, names);

    it('is no donor, however sharp: the next best is', () => {
      const traced = trace([soft, middling, moved(sharp), soft, soft], 1e-5);
      expect(traced.donor).toBe(1);
      expect(traced.isVisible).toBe(true);
    });

    it('is no proof that the merge is soft, where no other frame is sharper than it', () => {
      expect(trace([soft, soft, moved(sharp), soft, soft], 1e-5).isReal).toBe(false);
      expect(trace([soft, soft, sharp, soft, soft], 1e-5)).toMatchObject({ donor: 2, isVisible: true });
    });

    it('is not told where frames drift apart, or are too few', () => {
      const lit = (of: CellFrame, v: number): CellFrame => ({ ...of, mean: [flat(v), flat(v), flat(v)] });
      const drifting = [0.4, 0.45, 0.56, 0.5, 0.42].map((v, k) => lit(k === 2 ? sharp : soft, v));
      expect(trace(drifting, 1e-5).donor).toBe(2);
      expect(trace([soft, middling, moved(sharp)], 1e-5).donor).toBe(2);
    });
  });

  it('a ghost is mended from the moment that the merge shows most of, however sharp another is', () => {
    const shown = (share: number): CellFrame => {
      // Of the finding's five rows the upper ones are this frame's.
      const residual = flat(0.04);
      for (let i = 0; i < residual.length; i++) if (Math.floor(i / W) < 6 + 5 * share) residual[i] = 1e-6;
      return { ...frame(1e-4, 0), residual };
    };
    const traced = traceDetection(
      detection('ghost'),
      stackOf([shown(0.4), shown(0.8), frame(9e-4, 0.04)]),
      GRID,
      YARDSTICKS,
      NAMES,
    );
    expect([traced.donor, traced.repairable]).toEqual([1, true]);
    // Marked by hand where one frame is shown whole: that one mends nothing.
    const marked = traceDetection(
      detection('ghost'),
      stackOf([frame(1e-5, 1e-6), middling, frame(9e-4, 0.04)]),
      GRID,
      YARDSTICKS,
      NAMES,
    );
    expect(marked.donor).toBe(2);
  });

  it('a border that frames cover only together is mended by them in parts; one that none covers stays', () => {
    const covers = (side: 'left' | 'right' | 'none'): CellFrame => {
      const valid = new Uint8Array(W * H);
      for (let i = 0; i < valid.length; i++) valid[i] = side !== 'none' && i % W < 12 === (side === 'left') ? 1 : 0;
      return { ...frame(1e-4, 1e-6), valid };
    };
    const trace = (frames: CellFrame[]) =>
      traceDetection(detection('border'), stackOf(frames), GRID, YARDSTICKS, NAMES);
    expect(trace([covers('left'), covers('right'), covers('none')])).toMatchObject({ repairable: true, donor: 0 });
    expect(trace([covers('left'), covers('none'), covers('none')])).toMatchObject({ repairable: false, donor: null });
  });

  it('counts only the cells of its own region', () => {
    const outside = { ...detection('soft-patch'), cells: [0, 1, 2] };
    const traced = traceDetection(outside, stackOf([soft, middling, sharp]), GRID, YARDSTICKS, NAMES);
    expect(traced.frames.every((f) => f.shownShare === 0 && f.coverage === 0)).toBe(true);
    expect(traced.repairable).toBe(false);
  });
});

describe('donors', () => {
  const frames = [0.02, 0.05, 0.0205, 0.01].map((predictedError, k) => ({
    ...{ sharpness: 1, difference: 0, predictedError, shownShare: 0 },
    coverage: k === 3 ? 0.5 : 1,
  }));

  it('are all within 5 % of the best, and are tried by the error they would leave; who does not cover the place is none', () => {
    expect(tiedDonors({ frames, donor: 0 })).toEqual([0, 2]);
    expect(rankDonors({ frames, donor: 0 })).toEqual([0, 2, 1]);
    expect(rankDonors({ frames, donor: 1 })).toEqual([1, 0, 2]);
  });

  it('of a finding that no frame repairs, or that was not traced here, are none but the named one', () => {
    expect([rankDonors({ frames, donor: null }), tiedDonors({ frames, donor: null })]).toEqual([[], []]);
    expect(tiedDonors({ frames: [], donor: 2 })).toEqual([2]);
  });
});
