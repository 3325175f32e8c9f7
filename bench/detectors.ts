// Scores registration and detectors on freshly rendered stacks against their ground truth.
// npx tsx bench/detectors.ts [--scenes 10] [--seed N] [--width 1600]
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { alignLevels, registerPair, solvePoses, type AlignedFrame, type PoseEdge } from '@blendrak/core/align';
import {
  applySimilarity,
  composeSimilarity,
  estimateNoise,
  IDENTITY,
  IDENTITY_TONE,
  invertSimilarity,
  linearToSrgb,
  median,
  rescaleSimilarity,
  srgbToLinear,
  type NoiseCurve,
  type Plane,
  type Similarity,
} from '@blendrak/core/image';
import { calibrate, findDefects, reduceEvidence, type Detection } from '@blendrak/core/inspect';
import {
  downloadPlanes,
  focusBands,
  lumaOf,
  meanCells,
  openKernels,
  type KernelExports,
  type Kernels,
} from '@blendrak/core/kernels';
import { focusAxis, gatherCells } from '@blendrak/core/provenance';
import { traceDetection } from '@blendrak/core/trace';
import {
  blurRadiusPx,
  cellDepths,
  cellGrid,
  composeFaultyMerge,
  DEFAULT_CAMERA,
  gatherTruth,
  lampScene,
  makeRandom,
  openStudio,
  PLAIN_FAULTS,
  shootFrame,
  type SeededFault,
  type StackTruth,
} from '@blendrak/scene';
import { warpFrame } from '@blendrak/core/align';
import { blockSource } from '../packages/core/src/testing/pixelSource';

const SHOTS = 11;

const { values } = parseArgs({
  options: {
    scenes: { type: 'string', default: '10' },
    seed: { type: 'string', default: String(Date.now() % 100000) },
    width: { type: 'string', default: '1600' },
  },
});
const scenes = Number(values.scenes);
const first = Number(values.seed);
const width = Math.round(Number(values.width) / 8) * 8;
const height = Math.round((width * 3) / 4 / 8) * 8;

async function loadKernels(): Promise<Kernels> {
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 65536 });
  const bytes = readFileSync(new URL('../packages/core/build/kernels.wasm', import.meta.url));
  const { instance } = await WebAssembly.instantiate(bytes, { env: { memory, abort: () => undefined } });
  return openKernels({ memory, exports: instance.exports as unknown as KernelExports });
}

interface Tally {
  seeded: number;
  found: number;
  labelled: number;
  donorRight: number;
  repairableRight: number;
}

const tallies = new Map<string, Tally>();
const residuals: number[] = [];
let falseInFaulty = 0;
let falseInClean = 0;

const kernels = await loadKernels();
process.stdout.write(`seed ${first}, ${scenes} scenes of ${width} × ${height} px, ${SHOTS - 1} frames each\n`);
for (let s = 0; s < scenes; s++) await scoreScene(first + s);
printTable();

async function scoreScene(seed: number): Promise<void> {
  const scene = lampScene(seed, height / width);
  const studio = openStudio(scene, DEFAULT_CAMERA, width, height, SHOTS, seed);
  const all = Array.from({ length: SHOTS }, (_, k) => shootFrame(studio, k, 8));
  const missing = 2 + Math.floor(makeRandom(seed * 7 + 1)() * (SHOTS - 4));
  const kept = all.filter((f) => f.index !== missing);
  const grid = cellGrid(width, height);
  const depths = cellDepths(studio);
  const truth = gatherTruth(grid, depths, kept);
  const poses = kept.map((f) => studio.shots[f.index]!.toFrame);
  const merge = await composeFaultyMerge(studio, truth, gatherTruth(grid, depths, all), PLAIN_FAULTS, seed, (k) => ({
    pixels: kept[k]!.pixels,
    toFrame: poses[k]!,
    gain: studio.shots[kept[k]!.index]!.gain,
  }));
  measureAlignment(
    kept.map((f) => f.pixels as Uint8Array),
    poses,
  );
  const frames = kept.map((f, k) =>
    placed(f.pixels as Uint8Array, invertSimilarity(poses[k]!), studio.shots[f.index]!.gain),
  );
  for (const [name, picture] of [
    ['faulty', merge.faulty],
    ['clean', merge.clean],
  ] as const) {
    const pixels = Uint8Array.from(picture, (v) => Math.min(255, Math.max(0, v * 255 + 0.5)));
    const result = inspect(placed(pixels, IDENTITY, 1), frames);
    score(name, result, merge.faults, merge.unavoidable, truth);
  }
}

function placed(pixels: Uint8Array, toMerge: Similarity, gain: number): AlignedFrame {
  const knots = Array.from({ length: 33 }, (_, i) => linearToSrgb(srgbToLinear(i / 32) / gain));
  const source = blockSource(kernels, { width, height, data: pixels });
  const frame = { source, toMerge, tone: [knots, knots, knots] as const, noise: [0, 0] };
  return { ...frame, noise: noiseOf({ ...frame, toMerge: IDENTITY, tone: IDENTITY_TONE }) };
}

function noiseOf(frame: AlignedFrame): NoiseCurve {
  return kernels.scope(() => {
    const planes = warpFrame(kernels, frame, { x: 0, y: 0, width, height });
    const fine = downloadPlanes(kernels, focusBands(kernels, lumaOf(kernels, planes)))[0]!;
    const [r, g, b] = downloadPlanes(kernels, meanCells(kernels, planes)) as [Float32Array, Float32Array, Float32Array];
    const size = { width: width / 4, height: height / 4 };
    const luma = r.map((v, i) => 0.2126 * v + 0.7152 * g[i]! + 0.0722 * b[i]!);
    return estimateNoise({ ...size, data: fine }, { ...size, data: luma });
  });
}

function measureAlignment(pictures: readonly Uint8Array[], poses: readonly Similarity[]): void {
  const levels = pictures.map((p) => alignLevels(halfLuma(p), 1e-5));
  const edges: PoseEdge[] = [];
  levels.forEach((_, i) => {
    for (const j of [i + 1, i + 2].filter((k) => k < levels.length)) {
      const pair = registerPair(levels[i]!, levels[j]!);
      edges.push({
        from: i,
        to: j,
        transform: rescaleSimilarity(pair.toMoving, 2),
        weight: 1 / (0.05 + 2 * pair.residualPx) ** 2,
      });
    }
  });
  const middle = levels.length >> 1;
  solvePoses(levels.length, middle, edges).forEach((pose, k) => {
    if (k === middle) return;
    const exact = composeSimilarity(poses[middle]!, invertSimilarity(poses[k]!));
    const errors = Array.from({ length: 25 }, (_, i) => {
      const [x, y] = [((i % 5) * width) / 4, (Math.floor(i / 5) * height) / 4];
      const a = applySimilarity(pose, x, y);
      const b = applySimilarity(exact, x, y);
      return Math.hypot(a[0] - b[0], a[1] - b[1]);
    });
    residuals.push(median(errors));
  });
}

function halfLuma(p: Uint8Array): Plane {
  const [w, h] = [width >> 1, height >> 1];
  const data = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (const o of [0, 3, width * 3, width * 3 + 3]) {
        const i = (2 * y * width + 2 * x) * 3 + o;
        sum += 0.2126 * p[i]! + 0.7152 * p[i + 1]! + 0.0722 * p[i + 2]!;
      }
      data[y * w + x] = sum / 4 / 255;
    }
  }
  return { width: w, height: h, data };
}

interface Inspected {
  readonly detection: Detection;
  readonly donor: number | null;
  readonly repairable: boolean;
}

function inspect(merge: AlignedFrame, frames: readonly AlignedFrame[]): Inspected[] {
  const stack = gatherCells(kernels, merge, frames, { x: 0, y: 0, width, height });
  const axis = focusAxis(frames.map((f) => f.toMerge));
  const { maps, samples } = reduceEvidence(stack, axis, frames[0]!.noise);
  const calibration = calibrate([samples]);
  const names = frames.map((_, k) => `frame ${k + 1}`);
  return findDefects(maps, calibration, axis).map((detection) => {
    const traced = traceDetection(detection, stack, maps.width, calibration.nearSide, names);
    return { detection, donor: traced.donor, repairable: traced.repairable };
  });
}

/** A finding hits a fault when it covers a fifth of it, or lies in it by a third; it must not be 12 times its size. */
function score(
  name: 'faulty' | 'clean',
  found: readonly Inspected[],
  faults: readonly SeededFault[],
  unavoidable: Uint8Array,
  truth: StackTruth,
): void {
  // A slice that was never shot is missing from the clean merge too.
  const present = name === 'faulty' ? faults : faults.filter((f) => f.defect === 'focus-gap');
  const hits = present.map((): Inspected[] => []);
  for (const item of found) {
    const cells = new Set(item.detection.cells);
    let best = -1;
    let most = 0;
    present.forEach((fault, i) => {
      const shared = fault.cells.filter((c) => cells.has(c)).length;
      const counts = shared >= 0.2 * fault.cells.length || shared >= 0.3 * cells.size;
      if (counts && cells.size <= 12 * fault.cells.length && shared > most) [best, most] = [i, shared];
    });
    if (best >= 0) hits[best]!.push(item);
    else if (!isNeither(item.detection, unavoidable, truth)) {
      if (name === 'faulty') falseInFaulty++;
      else falseInClean++;
    }
  }
  if (name === 'clean') return;
  present.forEach((fault, i) => {
    const tally = tallies.get(fault.defect) ?? { seeded: 0, found: 0, labelled: 0, donorRight: 0, repairableRight: 0 };
    tallies.set(fault.defect, tally);
    tally.seeded++;
    if (hits[i]!.length === 0) return;
    tally.found++;
    const same = hits[i]!.find((h) => h.detection.defect === fault.defect);
    if (!same) return;
    tally.labelled++;
    if (same.repairable === fault.repairable) tally.repairableRight++;
    if (fault.repairable ? same.donor !== null && fault.donors.includes(same.donor) : same.donor === null)
      tally.donorRight++;
  });
}

/** Glow that no frame avoids, and blur that really is there but too faint to be asked for. */
function isNeither(d: Detection, unavoidable: Uint8Array, truth: StackTruth): boolean {
  if (d.cells.filter((c) => unavoidable[c]).length >= 0.3 * d.cells.length) return true;
  if (d.defect !== 'focus-gap') return false;
  const soft = d.cells.filter((c) => truth.focusMm.every((_, k) => blurRadiusPx(DEFAULT_CAMERA, truth, k, c) > 1.1));
  return soft.length > d.cells.length / 2;
}

function printTable(): void {
  const percent = (a: number, b: number): string => (b === 0 ? '–' : `${((100 * a) / b).toFixed(0)} %`).padStart(7);
  process.stdout.write('defect         seeded   recall   label    donor  repairable\n');
  for (const [defect, t] of tallies) {
    const row = [
      percent(t.found, t.seeded),
      percent(t.labelled, t.found),
      percent(t.donorRight, t.labelled),
      percent(t.repairableRight, t.labelled),
    ];
    process.stdout.write(`${defect.padEnd(14)} ${String(t.seeded).padStart(6)}  ${row.join('  ')}\n`);
  }
  const megapixels = (scenes * width * height) / 1e6;
  process.stdout.write(
    `false alarms: ${falseInClean} in clean, ${falseInFaulty} in faulty merges of ${megapixels.toFixed(0)} MP each\n`,
  );
  process.stdout.write(
    `alignment: median error against truth ${median(residuals).toFixed(3)} px over ${residuals.length} frames\n`,
  );
}
