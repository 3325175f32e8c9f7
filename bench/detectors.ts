// Scores registration and detectors on freshly rendered stacks against their ground truth.
// npx tsx bench/detectors.ts [--scenes 10] [--seed N] [--width 1600] [--folder KEPT]
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import {
  alignLevels,
  registerPair,
  solvePoses,
  warpFrame,
  type AlignedFrame,
  type PoseEdge,
} from '@blendrak/core/align';
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
import { bestFrames, blurRadiusPx, cellGrid, DEFAULT_CAMERA, type SeededFault, type StackTruth } from '@blendrak/scene';
import { blockSource } from '../packages/core/src/testing/pixelSource';
import { SHOTS, stageScene, type StagedFrame, type StagedScene } from './stageScene';

const { values } = parseArgs({
  options: {
    scenes: { type: 'string', default: '10' },
    seed: { type: 'string', default: String(Date.now() % 100000) },
    width: { type: 'string', default: '1600' },
    folder: { type: 'string' },
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
for (let s = 0; s < scenes; s++) {
  await scoreScene(first + s);
  process.stdout.write(`scene ${s + 1} of ${scenes} done\n`);
}
printTable();

async function scoreScene(seed: number): Promise<void> {
  const scene = await stageScene(seed, width, height, values.folder);
  measureAlignment(scene.frames);
  const frames = scene.frames.map((f) => placed(f.pixels, invertSimilarity(f.toFrame), f.gain));
  for (const name of ['faulty', 'clean'] as const) {
    score(name, inspect(placed(scene[name], IDENTITY, 1), frames), scene);
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

function measureAlignment(frames: readonly StagedFrame[]): void {
  const levels = frames.map((f) => alignLevels(halfLuma(f.pixels), 1e-5));
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
    const exact = composeSimilarity(frames[middle]!.toFrame, invertSimilarity(frames[k]!.toFrame));
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
  const { maps, samples } = reduceEvidence(stack, axis);
  const calibration = calibrate([samples]);
  const names = frames.map((_, k) => `frame ${k + 1}`);
  return findDefects(maps, calibration, axis).map((detection) => {
    const traced = traceDetection(detection, stack, maps.width, calibration.nearSide, names);
    return { detection, donor: traced.donor, repairable: traced.repairable };
  });
}

/**
 * A finding hits a fault when it covers a fifth of it, or lies in it by a third; and what of it is neither fault nor
 * truly blurred must not be 12 times as large as what it hits.
 */
function score(
  name: 'faulty' | 'clean',
  found: readonly Inspected[],
  { faults, unavoidable, truth }: StagedScene,
): void {
  // A slice that was never shot is missing from the clean merge too.
  const present = name === 'faulty' ? faults : faults.filter((f) => f.defect === 'focus-gap');
  const hits = present.map((): Inspected[] => []);
  const known = new Set(present.flatMap((f) => f.cells));
  for (const item of found) {
    const cells = new Set(item.detection.cells);
    const stray = item.detection.cells.filter((c) => !known.has(c) && !isBlurred(truth, c)).length;
    const hit = present.flatMap((fault, i) => {
      const shared = fault.cells.filter((c) => cells.has(c)).length;
      const counts = shared >= 0.2 * fault.cells.length || shared >= 0.3 * cells.size;
      return counts ? [i] : [];
    });
    const size = hit.reduce((sum, i) => sum + present[i]!.cells.length, 0);
    if (stray > 12 * size) hit.length = 0;
    hit.forEach((i) => hits[i]!.push(item));
    if (hit.length === 0 && !isNeither(item.detection, unavoidable, truth)) {
      process.stdout.write(`  false in ${name}: ${describe(item.detection.defect, item.detection.cells)}\n`);
      if (name === 'faulty') falseInFaulty++;
      else falseInClean++;
    }
  }
  if (name === 'clean') return;
  present.forEach((fault, i) => tally(fault, hits[i]!, truth));
}

function tally(fault: SeededFault, hits: readonly Inspected[], truth: StackTruth): void {
  const sum = tallies.get(fault.defect) ?? { seeded: 0, found: 0, labelled: 0, donorRight: 0, repairableRight: 0 };
  tallies.set(fault.defect, sum);
  sum.seeded++;
  const what = describe(fault.defect, fault.cells);
  if (hits.length === 0) {
    process.stdout.write(`  missed: ${what}\n`);
    return;
  }
  sum.found++;
  const same = hits.find((h) => h.detection.defect === fault.defect);
  if (!same) {
    process.stdout.write(`  called ${hits[0]!.detection.defect}: ${what}\n`);
    return;
  }
  sum.labelled++;
  if (same.repairable === fault.repairable) sum.repairableRight++;
  // Right there: in what the finding covers of the fault.
  const reported = new Set(same.detection.cells);
  const covered = fault.cells.filter((c) => reported.has(c));
  const donors = fault.repairable ? bestFrames(truth, covered) : [];
  const right = fault.repairable ? same.donor !== null && donors.includes(same.donor) : same.donor === null;
  if (right) sum.donorRight++;
  else process.stdout.write(`  donor ${same.donor}, right ${donors.join(' or ') || 'none'}: ${what}\n`);
}

function describe(defect: string, cells: readonly number[]): string {
  const cell = cells[cells.length >> 1]!;
  const across = cellGrid(width, height).width;
  return `${defect} of ${cells.length} cells near (${(cell % across) * 4}, ${Math.floor(cell / across) * 4}) px`;
}

/** Radius 1.1 px in the best frame: blurred, if too faintly to be asked for. */
function isBlurred(truth: StackTruth, cell: number): boolean {
  return truth.focusMm.every((_, k) => blurRadiusPx(DEFAULT_CAMERA, truth, k, cell) > 1.1);
}

/** Glow that no frame avoids, and blur that really is there but too faint to be asked for. */
function isNeither(d: Detection, unavoidable: Uint8Array, truth: StackTruth): boolean {
  if (d.cells.filter((c) => unavoidable[c]).length >= 0.3 * d.cells.length) return true;
  if (d.defect !== 'focus-gap') return false;
  return d.cells.filter((c) => isBlurred(truth, c)).length > d.cells.length / 2;
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
