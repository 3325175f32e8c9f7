// Layer: where a merge of exposures is lighter or darker than the scene there has it, slowly, beside what is all around.
import { cellLuma } from '../../cells';
import { dilate, tentSmooth, weightedSmooth, type Plane } from '../../image';
import { JUST_VISIBLE } from '../detection';
import { ends } from './ends';
import type { Layer } from './layer';

export interface LiftMaps extends Readonly<Record<string, Uint8Array | Float32Array>> {
  /** How much lighter (or, below 0, darker) the merge is than its relation to every telling frame makes it, encoded; of the least. */
  readonly lift: Float32Array;
  /** 1 at the strong edges of the merge, at which blends overshoot. */
  readonly edge: Uint8Array;
}

/** Cells over which the merge is related to a frame: wider than halos are, narrower than light changes. */
const WIDE = 14;
/** A window must be told to this share for its relation to be believed. */
const TOLD = 0.3;
/** Least spread of a frame over a window that a slope can be told from, encoded². */
const LEAST_SPREAD = 4e-4;
/** A merge keeps a scene's contrast by half to twice. */
const SLOPES = [0.3, 3] as const;
/** Beside what is torn, so many cells, the merge is related to nothing; nor is it to a frame that shows another moment. */
const TORN_REACH = 4;
const OTHER_MISFIT = 18;
/** Cells over which an edge is looked for, and what is one: a quarter of the scale. */
const EDGE_REACH = 2;
const EDGE_STEP = 0.25;

export const lift: Layer<LiftMaps, null, null> = {
  name: 'lift',
  kinds: ['bracket'],
  needs: [ends],
  empty: (cells) => ({ lift: new Float32Array(cells), edge: new Uint8Array(cells) }),
  measure(view) {
    const { stack } = view;
    const { width, height, frames } = stack;
    const maps = this.empty(width * height);
    const plane = (data: Float32Array): Plane => ({ width, height, data });
    const merge = cellLuma(stack.merge!);
    const told = new Uint8Array(maps.lift.length);
    const torn = Uint8Array.from(view.of(ends).lost, (v) => (v > JUST_VISIBLE ? 1 : 0));
    const besideTorn = dilate({ width, height, data: torn }, TORN_REACH).data;
    for (const frame of frames) {
      const { relation } = frame;
      if (!relation?.telling.includes(1)) continue;
      const own = cellLuma(frame);
      const weight = Float32Array.from(relation.telling, (v, i) =>
        besideTorn[i] || relation.misfit[i]! > OTHER_MISFIT ? 0 : v,
      );
      const smooth = (data: Float32Array): Float32Array => weightedSmooth(plane(data), plane(weight), WIDE).data;
      const [m, f, ff, mf] = [
        smooth(merge),
        smooth(own),
        smooth(own.map((v) => v * v)),
        smooth(own.map((v, i) => v * merge[i]!)),
      ];
      const share = tentSmooth(plane(weight), WIDE).data;
      const rest = new Float32Array(own.length);
      for (let i = 0; i < rest.length; i++) {
        if (!weight[i]) continue;
        const spread = ff[i]! - f[i]! * f[i]!;
        const slope =
          spread > LEAST_SPREAD ? Math.min(SLOPES[1], Math.max(SLOPES[0], (mf[i]! - m[i]! * f[i]!) / spread)) : 1;
        rest[i] = merge[i]! - m[i]! - slope * (own[i]! - f[i]!);
      }
      const even = weightedSmooth(plane(rest), plane(weight), 1).data;
      for (let i = 0; i < even.length; i++) {
        if (!weight[i] || share[i]! < TOLD) continue;
        if (!told[i] || Math.abs(even[i]!) < Math.abs(maps.lift[i]!)) maps.lift[i] = even[i]!;
        told[i] = 1;
      }
    }
    markEdges(merge, width, height, maps.edge);
    return { maps, samples: null };
  },
  calibrate: () => null,
};

function markEdges(luma: Float32Array, width: number, height: number, edge: Uint8Array): void {
  for (let y = EDGE_REACH; y < height - EDGE_REACH; y++) {
    for (let x = EDGE_REACH; x < width - EDGE_REACH; x++) {
      const i = y * width + x;
      const across = Math.abs(luma[i + EDGE_REACH]! - luma[i - EDGE_REACH]!);
      const down = Math.abs(luma[i + EDGE_REACH * width]! - luma[i - EDGE_REACH * width]!);
      edge[i] = Math.max(across, down) > EDGE_STEP ? 1 : 0;
    }
  }
}
