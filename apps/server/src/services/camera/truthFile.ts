// The truth file of a merge made elsewhere.
import { writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import type { Truth } from '@blendrak/contract';
import { CELL } from '@blendrak/scene';
import type { MadeElsewhere } from './composeElsewhere';
import type { Photographed } from './photograph';

/** Writes what is true of the faulty merge. */
export function writeTruth(path: string, set: Photographed, made: MadeElsewhere): void {
  const { width, height } = set.plan.canvas;
  const names = made.kept.map((k) => basename(set.files[k]!.path));
  const named = (frames: readonly number[]): string[] => frames.map((k) => names[k]!);
  const truth: Truth = {
    format: 'blendrak-truth',
    version: 1,
    merge: { file: basename(made.faulty), width, height },
    cellPx: CELL,
    faults: made.truth.faults.map(({ cells, shown, donors, ...rest }, k) => ({
      ...rest,
      moments: made.moments
        .filter(({ fault }) => fault === k)
        .map(({ moment, region, file }) => ({ frame: names[moment.frame]!, file, region, runs: runsOf(moment.cells) })),
      runs: runsOf(cells),
      shown: named(shown),
      donors: named(donors),
    })),
    unavoidable: runsOf(marked(made.truth.unavoidable)),
    faint: runsOf(marked(made.truth.faint)),
  };
  writeFileSync(path, `${JSON.stringify(truth)}\n`);
}

function marked(mask: Uint8Array): number[] {
  const out: number[] = [];
  mask.forEach((v, c) => {
    if (v) out.push(c);
  });
  return out;
}

function runsOf(cells: readonly number[]): [number, number][] {
  const runs: [number, number][] = [];
  for (const cell of [...cells].sort((a, b) => a - b)) {
    const last = runs.at(-1);
    if (last && last[0] + last[1] === cell) last[1] += 1;
    else runs.push([cell, 1]);
  }
  return runs;
}
