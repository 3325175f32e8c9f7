// What a run of one view is: a bracket, a focus stack, or frames that are all alike; or several of these in a row.
import { compareLight } from './compareLight';
import { exposureEv, type SortFrame } from './sortFrame';

export interface Unit {
  readonly kind: 'bracket' | 'focus-stack' | 'single' | 'alike';
  readonly frames: readonly number[];
  /** Exposure of each frame against the first, EV. */
  readonly ev: readonly number[];
  readonly focus: 'near-to-far' | 'far-to-near' | 'unknown';
  readonly why: string;
}

/** Exposures closer than this are meant to be equal. */
const SAME_EV = 0.28;
/** Exposure steps that are meant. */
const LEAST_RANGE_EV = 0.6;

/** Splits a run by its exposures, then by its focus distances. */
export function splitRun(frames: readonly SortFrame[], run: readonly number[]): Unit[] {
  if (run.length === 1) return [unit('single', run, [0], 'unknown', 'one frame of its view')];
  const ev = exposures(frames, run);
  if (Math.max(...ev) - Math.min(...ev) >= LEAST_RANGE_EV) return splitBrackets(run, ev);
  return splitFocus(frames, run, ev);
}

/** Exposure of each frame against the first: as the files say, else as their light shows. */
export function exposures(frames: readonly SortFrame[], run: readonly number[]): number[] {
  const said = run.map((k) => exposureEv(frames[k]!.settings));
  if (said.every((e) => e !== null)) return said.map((e) => e - said[0]!);
  let sum = 0;
  return run.map((k, i) => {
    if (i > 0) sum += compareLight(frames[run[i - 1]!]!.summary, frames[k]!.summary)?.gainEv ?? 0;
    return sum;
  });
}

/** A bracket ends where an exposure comes again that it already has. */
function splitBrackets(run: readonly number[], ev: readonly number[]): Unit[] {
  const units: Unit[] = [];
  let from = 0;
  for (let i = 1; i <= run.length; i++) {
    const seen = i < run.length && ev.slice(from, i).some((e) => Math.abs(e - ev[i]!) < SAME_EV);
    if (i < run.length && !seen) continue;
    const part = ev.slice(from, i);
    const range = Math.max(...part) - Math.min(...part);
    units.push(
      unit(
        part.length === 1 ? 'single' : 'bracket',
        run.slice(from, i),
        part,
        'unknown',
        part.length === 1
          ? 'one frame of its view'
          : `one view in ${part.length} exposures over ${range.toFixed(1)} EV`,
      ),
    );
    from = i;
  }
  return units;
}

function splitFocus(frames: readonly SortFrame[], run: readonly number[], ev: readonly number[]): Unit[] {
  const inverse = run.map((k) => {
    const mm = frames[k]!.settings.focusMm;
    return mm === null ? null : 1000 / mm;
  });
  if (inverse.every((d) => d !== null)) {
    const dioptres = inverse as number[];
    const range = Math.max(...dioptres) - Math.min(...dioptres);
    // A focus ring that stands still is written the same in each file, within what it writes.
    if (range > 1e-4 * Math.max(...dioptres)) return splitDirections(run, ev, dioptres);
  }
  if (focusMoves(frames, run))
    return [
      unit('focus-stack', run, ev, 'unknown', `one view in ${run.length} frames of equal exposure; sharpness wanders`),
    ];
  return [unit('alike', run, ev, 'unknown', `${run.length} frames of one view that are all alike`)];
}

/** A stack ends where the focus jumps back by more than its step. */
function splitDirections(run: readonly number[], ev: readonly number[], dioptres: readonly number[]): Unit[] {
  const units: Unit[] = [];
  let from = 0;
  for (let i = 1; i <= run.length; i++) {
    if (i < run.length) {
      const step = dioptres[i]! - dioptres[i - 1]!;
      const before = i - from >= 2 ? dioptres[i - 1]! - dioptres[i - 2]! : 0;
      const reverses = before !== 0 && step * before < 0 && Math.abs(step) > 1.5 * Math.abs(before);
      if (!reverses) continue;
    }
    const part = dioptres.slice(from, i);
    const frames = run.slice(from, i);
    const [first, last] = [1000 / part[0]!, 1000 / part.at(-1)!];
    const words = (mm: number): string => (mm > 2000 ? `${(mm / 1000).toFixed(1)} m` : `${mm.toFixed(0)} mm`);
    units.push(
      frames.length === 1
        ? unit('single', frames, [0], 'unknown', 'one frame of its view')
        : unit(
            'focus-stack',
            frames,
            ev.slice(from, i),
            first < last ? 'near-to-far' : 'far-to-near',
            `one view in ${frames.length} frames of equal exposure, focused from ${words(first)} to ${words(last)}`,
          ),
    );
    from = i;
  }
  return units;
}

/**
 * Whether different places are sharpest in different frames: of the cells with detail, at least a tenth each must be sharpest
 * in two frames or more, and clearly sharper there than elsewhere in the series.
 */
export function focusMoves(frames: readonly SortFrame[], run: readonly number[]): boolean {
  const details = run.map((k) => frames[k]!.summary.detail);
  const cells = details[0]!.fine.length;
  if (details.some((d) => d.fine.length !== cells)) return false;
  const wins = new Map<number, number>();
  let judged = 0;
  const strongest = Math.max(...details.map((d) => d.coarse.reduce((m, v) => Math.max(m, v), 0)));
  for (let c = 0; c < cells; c++) {
    if (details.every((d) => d.coarse[c]! < strongest * 2e-4)) continue;
    const sharpness = details.map((d) => d.fine[c]! / (d.coarse[c]! + strongest * 1e-5));
    const best = Math.max(...sharpness);
    const worst = Math.min(...sharpness);
    judged += 1;
    if (best < 1.6 * worst) continue;
    const k = sharpness.indexOf(best);
    wins.set(k, (wins.get(k) ?? 0) + 1);
  }
  return [...wins.values()].filter((n) => n > judged * 0.08).length >= 2;
}

function unit(
  kind: Unit['kind'],
  frames: readonly number[],
  ev: readonly number[],
  focus: Unit['focus'],
  why: string,
): Unit {
  return { kind, frames, ev: ev.map((e) => e - ev[0]!), focus, why };
}
