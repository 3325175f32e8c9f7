// Tasks of a panorama's merge: `blurs`, `seamView` and `seams`.
import { planeView } from '@blendrak/core/kernels';
import { coveredCells, frameToMerge, mergeToFrame, warpFrame } from '@blendrak/core/frame';
import { compareBlur, findSeams, type SeamLabels, type SeamView } from '@blendrak/core/merge';
import { threadKernels } from '../kernelHost';
import type { TaskRequest } from '../protocol';
import { placedFrame, tileFile } from '../sources';

const BORDER_STEPS = 16;
/** Within this of a frame's border a cell does not count as filled: resampling and lens corrections need room. */
const RIM_PX = 3;

/** Side of a place at which the blur of two frames is compared, px, and how many are enough. */
const WINDOW_PX = 64;
const ENOUGH_WINDOWS = 48;

/** What the blur of two frames differs by, at places spread evenly over what both show. */
export function blursTask({ frames, width, height }: TaskRequest<'blurs'>): number[] {
  const cells = { x: 0, y: 0, width: Math.floor(width / WINDOW_PX), height: Math.floor(height / WINDOW_PX) };
  const [a, b] = frames.map((frame) => coveredCells(frame.geometry, tileFile(frame.tiles), cells, WINDOW_PX)) as [
    Uint8Array,
    Uint8Array,
  ];
  const shared = [...a.keys()].filter((i) => a[i] && b[i]);
  const every = Math.max(1, shared.length / ENOUGH_WINDOWS);
  const windows = Array.from({ length: Math.min(shared.length, ENOUGH_WINDOWS) }, (_, n) => {
    const i = shared[Math.floor(n * every)]!;
    const [x, y] = [i % cells.width, Math.floor(i / cells.width)];
    return { x: x * WINDOW_PX, y: y * WINDOW_PX, width: WINDOW_PX, height: WINDOW_PX };
  });
  return compareBlur(threadKernels(), placedFrame(frames[0]), placedFrame(frames[1]), windows);
}

/** A frame as the search for seams sees it: two samples per cell. */
export function seamViewTask({ frame, softness, cellPx, width, height }: TaskRequest<'seamView'>): SeamView | null {
  const file = tileFile(frame.tiles);
  const { geometry } = frame;
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let n = 0; n <= 4 * BORDER_STEPS; n++) {
    const side = Math.floor(n / BORDER_STEPS) % 4;
    const s = (n % BORDER_STEPS) / BORDER_STEPS;
    const [fx, fy] = [
      [s, 0],
      [1, s],
      [1 - s, 1],
      [0, 1 - s],
    ][side] as [number, number];
    const at = frameToMerge(geometry, fx * file.width, fy * file.height);
    if (!at) continue;
    x0 = Math.min(x0, at[0]);
    x1 = Math.max(x1, at[0]);
    y0 = Math.min(y0, at[1]);
    y1 = Math.max(y1, at[1]);
  }
  const left = Math.max(0, Math.floor(x0 / cellPx));
  const top = Math.max(0, Math.floor(y0 / cellPx));
  const w = Math.min(Math.ceil(width / cellPx), Math.ceil(x1 / cellPx) + 1) - left;
  const h = Math.min(Math.ceil(height / cellPx), Math.ceil(y1 / cellPx) + 1) - top;
  if (!(w > 0 && h > 0)) return null;
  const valid = new Uint8Array(w * h);
  const eccentricity = new Float32Array(w * h);
  const inside = (x: number, y: number): readonly [number, number] | null => {
    const at = mergeToFrame(geometry, x, y);
    const kept =
      at && at[0] >= RIM_PX && at[1] >= RIM_PX && at[0] <= file.width - RIM_PX && at[1] <= file.height - RIM_PX;
    return kept ? at : null;
  };
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const [px, py] = [(left + x) * cellPx, (top + y) * cellPx];
      const middle = inside(px + cellPx / 2, py + cellPx / 2);
      const whole =
        middle &&
        inside(px, py) &&
        inside(px + cellPx, py) &&
        inside(px, py + cellPx) &&
        inside(px + cellPx, py + cellPx);
      if (!whole) continue;
      const i = y * w + x;
      valid[i] = 1;
      eccentricity[i] = Math.max(
        Math.abs(middle[0] / file.width - 0.5) * 2,
        Math.abs(middle[1] / file.height - 0.5) * 2,
      );
    }
  }
  const kernels = threadKernels();
  const scale = cellPx / 2;
  const rgb = kernels.scope(() => {
    const planes = warpFrame(
      kernels,
      placedFrame(frame),
      { x: 2 * left, y: 2 * top, width: 2 * w, height: 2 * h },
      scale,
    );
    const out = new Float32Array(12 * w * h);
    for (let c = 0; c < 3; c++) out.set(planeView(kernels, planes, c), c * 4 * w * h);
    return out;
  });
  return { x: left, y: top, width: w, height: h, rgb, valid, eccentricity, softness };
}

export function seamsTask({ views, width, height }: TaskRequest<'seams'>): SeamLabels {
  return findSeams(views, width, height);
}
