// The axis along which a stack's slices are drawn: to scale in distance, or in dioptres, in which slices are equally wide.
import type { DepthRange, Slice } from '@blendrak/core/plan';

export type AxisScale = 'distance' | 'dioptres';

export interface DepthAxis {
  /** True where the axis ends before the subject does, at an arrow. */
  readonly open: boolean;
  readonly ticks: readonly number[];
  /** Share of the width, 0 at the near end; beyond the ends it is cut there. */
  at(mm: number): number;
  /** Distance at a share of the width. */
  from(share: number): number;
}

/** Room before and behind the subject, as a share of its depth. */
const RIM = 0.06;

/**
 * Lays the axis for a subject and its slices.
 * @param rail slices lie about 0 along the subject's depth: dioptres have no meaning there
 */
export function layAxis(range: DepthRange, slices: readonly Slice[], scale: AxisScale, rail: boolean): DepthAxis {
  if (scale === 'dioptres' && !rail) return dioptreAxis(range, slices);
  const first = Math.min(range.nearestMm, ...slices.map((s) => s.nearMm));
  const finite = slices.flatMap((s) => [s.farMm, s.focusMm]).filter(Number.isFinite);
  const open = !Number.isFinite(range.farthestMm);
  const last = open ? Math.max(3 * range.nearestMm, ...finite) * 1.1 : Math.max(range.farthestMm, ...finite);
  const rim = (last - first) * RIM;
  const low = first - rim;
  const high = open ? last : last + rim;
  return {
    open,
    ticks: roundSteps(low, high, 7),
    at: (mm) => cut((Math.min(mm, high) - low) / (high - low)),
    from: (share) => low + share * (high - low),
  };
}

function dioptreAxis(range: DepthRange, slices: readonly Slice[]): DepthAxis {
  const near = Math.max(1 / range.nearestMm, ...slices.map((s) => 1 / s.nearMm));
  const far = Math.min(1 / range.farthestMm, ...slices.map((s) => 1 / s.farMm));
  const rim = (near - far) * RIM;
  const high = near + rim;
  const low = Math.max(0, far - rim);
  const at = (mm: number): number => cut((high - 1 / mm) / (high - low));
  // Round distances that stand well apart.
  const ticks: number[] = [];
  for (const mm of candidates(1 / high, low > 0 ? 1 / low : 1e6)) {
    if (ticks.length === 0 || at(mm) - at(ticks.at(-1)!) > 0.09) ticks.push(mm);
  }
  if (far === 0) ticks.push(Infinity);
  return { open: false, ticks, at, from: (share) => 1 / Math.max(1e-9, high - share * (high - low)) };
}

/** Round numbers between two lengths, near → far, fine enough for any stretch. */
function* candidates(low: number, high: number): Generator<number> {
  const step = 10 ** Math.floor(Math.log10(low) - 1);
  for (let mm = Math.ceil(low / step) * step; mm < Math.min(high, low * 10); mm += step)
    yield Number(mm.toPrecision(6));
  for (let mm = 10 ** Math.ceil(Math.log10(low * 10)); mm < high; mm *= 2) yield mm;
}

function roundSteps(low: number, high: number, count: number): number[] {
  const raw = (high - low) / count;
  const power = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw)!;
  const out: number[] = [];
  for (let v = Math.ceil(low / step) * step; v <= high; v += step) out.push(Number(v.toPrecision(9)));
  return out;
}

function cut(share: number): number {
  return Math.min(1, Math.max(0, share));
}
