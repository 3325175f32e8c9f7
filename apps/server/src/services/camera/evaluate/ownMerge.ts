// The product's own merge held against the picture that a perfect camera would give in the same place.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { MergeKind, Report, ReportFrame } from '@blendrak/contract';
import { rotationBetween, transposed, turn, type Vector3 } from '@blendrak/core/align';
import {
  applyMatrix,
  canvasRay,
  frameToMerge,
  invertMatrix,
  median,
  mergeToFrame,
  rayOnCanvas,
  type Matrix3,
  type Projection,
  type Region,
  type TurnedView,
} from '@blendrak/core/image';
import { castRow, makeRayRow, projectRay, shotOf, type Mat3, type View } from '@blendrak/scene';
import { writeTiff } from '../../../codecs';
import { inParallel } from '../../pipeline';
import type { CameraPool } from '../cameraPool';
import { stripsOf } from '../photograph';
import { createRaw, readRaw, type RawPicture } from '../rawFile';
import type { EvaluationScene } from './evaluateScene';
import { signalToNoise, structuralSimilarity } from './structuralSimilarity';

/** What scoring wants to know of a scene. */
export type ShotScene = Pick<EvaluationScene, 'plan' | 'kept' | 'names'>;

/** How near a merge comes to the ideal, and how far its frames are off. */
export interface OwnMergeScore {
  /** Share of the merge in which nothing moved: the following two are measured there. */
  readonly stillShare: number;
  readonly similarity: number;
  /** Peak signal to noise, dB. */
  readonly psnrDb: number;
  /** Per pair of frames that overlap: median distance of their places against truth, px. */
  readonly pairErrorsPx: readonly number[];
  /** Lean of what stands upright, degrees, the most over the merge; null where nothing was levelled. */
  readonly leanDeg: number | null;
}

/** Makes a merge of a folder of frames; the same way as the merge that is judged. */
export type MergeFolder = (folder: string, out: string) => Promise<void>;

/**
 * Scores a merge. A stack is held against the perfect frame of its reference; a panorama against the world seen through its own
 * canvas; a bracket against the same merge made of perfect exposures of one moment.
 * @param file the merge, @param report of it
 */
export async function scoreOwnMerge(
  camera: CameraPool,
  scene: ShotScene,
  kind: MergeKind,
  file: string,
  report: Report,
  folder: string,
  mergeFolder: MergeFolder,
): Promise<OwnMergeScore> {
  const own = await readLuma(file);
  const ideal =
    kind === 'panorama'
      ? await idealPanorama(camera, scene, report, folder)
      : kind === 'bracket'
        ? await idealBracket(camera, scene, report, folder, mergeFolder)
        : await idealFrame(camera, scene, report, folder);
  if (own.width !== ideal.width || own.height !== ideal.height)
    throw new Error(`${file} has another size than its ideal`);
  // The rim that some frames do not reach is judged by the border defect, not here.
  const border = Math.round(own.width * 0.02);
  const still = kind === 'focus-stack' ? null : await stillPlaces(camera, scene, kind, report, folder);
  return {
    similarity: structuralSimilarity(own.luma, ideal.luma, own.width, own.height, border, still),
    psnrDb: signalToNoise(own.luma, ideal.luma, own.width, own.height, border, still),
    stillShare: still ? still.reduce((s, v) => s + v, 0) / still.length : 1,
    pairErrorsPx: pairErrors(scene, report),
    leanDeg: kind === 'panorama' ? leanOf(scene, report) : null,
  };
}

interface Luma {
  readonly width: number;
  readonly height: number;
  readonly luma: Float32Array;
}

async function readLuma(file: string): Promise<Luma> {
  const { data, info } = await sharp(file, { limitInputPixels: false })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  const values = new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2);
  return { width: info.width, height: info.height, luma: lumaOf(values, 65535) };
}

function lumaOf(rgb: Uint8Array | Uint16Array, top: number): Float32Array {
  const out = new Float32Array(rgb.length / 3);
  for (let i = 0; i < out.length; i++) {
    out[i] = (0.2126 * rgb[3 * i]! + 0.7152 * rgb[3 * i + 1]! + 0.0722 * rgb[3 * i + 2]!) / top;
  }
  return out;
}

/** The frame that a report maps to itself. */
function referenceOf(report: Report, file: string): ReportFrame {
  const found = report.frames.find((f) => {
    const [a, b, c, , e, g] = f.alignment.matrix;
    return Math.abs(a! - 1) + Math.abs(b!) + Math.abs(e! - 1) < 1e-9 && Math.abs(c!) + Math.abs(g!) < 1e-6;
  });
  if (!found) throw new Error(`no frame of the report of ${file} is the reference`);
  return found;
}

function shotIndex({ plan, kept, names }: ShotScene, file: string): number {
  return plan.frames[kept[names.indexOf(file)]!]!.shot;
}

async function renderRaw(
  camera: CameraPool,
  folder: string,
  name: string,
  width: number,
  height: number,
  strip: (region: Region, out: RawPicture) => Promise<unknown>,
): Promise<RawPicture> {
  const out: RawPicture = { path: join(folder, `${name}.raw`), width, height, bits: 16 };
  createRaw(out);
  await inParallel(stripsOf(width, height), camera.threads, (region) => strip(region, out));
  return out;
}

function takeLuma(raw: RawPicture): Luma {
  const { width, height } = raw;
  const luma = lumaOf(readRaw(raw, { x: 0, y: 0, width, height }).data, 65535);
  rmSync(raw.path);
  return { width, height, luma };
}

async function idealFrame(camera: CameraPool, scene: ShotScene, report: Report, folder: string): Promise<Luma> {
  const { assignment } = scene.plan;
  const shot = shotIndex(scene, referenceOf(report, folder).file);
  return takeLuma(
    await renderRaw(camera, folder, 'ideal', assignment.width, assignment.height, (region, out) =>
      camera.run('expose', { assignment, shot, region, hand: false, ideal: true, out }),
    ),
  );
}

/** All exposures as perfect frames of the reference's place and moment, merged the same way. */
async function idealBracket(
  camera: CameraPool,
  scene: ShotScene,
  report: Report,
  folder: string,
  mergeFolder: MergeFolder,
): Promise<Luma> {
  const { assignment } = scene.plan;
  const { width, height } = assignment;
  const at = shotIndex(scene, referenceOf(report, folder).file);
  const frames = join(folder, 'ideal');
  mkdirSync(frames, { recursive: true });
  for (const name of scene.names) {
    const shot = shotIndex(scene, name);
    const raw = await renderRaw(camera, folder, 'exposure', width, height, (region, out) =>
      camera.run('expose', { assignment, shot, at, region, hand: false, ideal: true, out }),
    );
    writeTiff(join(frames, name.replace(/\.\w+$/, '.tif')), width, height, 16, null, (y, rows) => ({
      width,
      height: rows,
      data: readRaw(raw, { x: 0, y, width, height: rows }).data,
    }));
    rmSync(raw.path);
  }
  const out = join(folder, 'ideal.tif');
  await mergeFolder(frames, out);
  return readLuma(out);
}

/** The world as the merge's own canvas would show it without error. */
async function idealPanorama(camera: CameraPool, scene: ShotScene, report: Report, folder: string): Promise<Luma> {
  return worldAt(camera, scene, canvasView(scene, report), scene.plan.referenceS, folder);
}

async function worldAt(
  camera: CameraPool,
  { plan: { assignment } }: ShotScene,
  view: View,
  momentS: number,
  folder: string,
): Promise<Luma> {
  return takeLuma(
    await renderRaw(camera, folder, 'world', view.width, view.height, (region, out) =>
      camera.run('ideal', { assignment, view, momentS, region, out }),
    ),
  );
}

/** The canvas of a panorama's merge as a view into the true world. */
function canvasView(scene: ShotScene, report: Report): View {
  const views = viewsOf(report);
  const { canvas } = views[0]!;
  return {
    ...scene.plan.canvas,
    projection: VIEW_PROJECTIONS[canvas.projection],
    ...{ width: report.merge.width, height: report.merge.height },
    focalPx: canvas.focalPx * focalRatio(scene, report, views),
    principal: canvas.axis,
    rotation: trueAxes(scene, report, views),
  };
}

/** Change of code value between two moments that counts as motion. */
const MOVED = 0.008;

/** 1 where the world looks the same at the first, the reference's and the last moment: water, flags and pendulums have no ideal. */
async function stillPlaces(
  camera: CameraPool,
  scene: ShotScene,
  kind: MergeKind,
  report: Report,
  folder: string,
): Promise<Uint8Array> {
  const { shots } = scene.plan;
  const view =
    kind === 'panorama' ? canvasView(scene, report) : shots[shotIndex(scene, referenceOf(report, folder).file)]!.view;
  const moments = [shots[0]!.startS, shots[shots.length >> 1]!.startS, shots.at(-1)!.startS];
  const seen: Float32Array[] = [];
  for (const momentS of new Set(moments)) seen.push((await worldAt(camera, scene, view, momentS, folder)).luma);
  return Uint8Array.from(seen[0]!, (v, i) => (seen.every((s) => Math.abs(s[i]! - v) < MOVED) ? 1 : 0));
}

const VIEW_PROJECTIONS: Readonly<Record<Projection, View['projection']>> = {
  flat: 'flat',
  cylindrical: 'cylinder',
  spherical: 'sphere',
};

/** True focal length over the estimated one: angles that come out too large belong to a focal length that is too short. */
function focalRatio(scene: ShotScene, report: Report, views: readonly TurnedView[]): number {
  const ratios = views.map(
    (v, k) => scene.plan.shots[shotIndex(scene, report.frames[k]!.file)]!.view.focalPx / v.focalPx,
  );
  return median(ratios);
}

/** World → canvas axes by which the canvas's directions agree best with the true directions of the frames. */
function trueAxes(scene: ShotScene, report: Report, views: readonly TurnedView[]): Mat3 {
  const world: Vector3[] = [];
  const canvas: Vector3[] = [];
  views.forEach((view, k) => {
    const truth = scene.plan.shots[shotIndex(scene, report.frames[k]!.file)]!.view.rotation as Matrix3;
    const found = transposed(view.rotation);
    for (const axis of [
      [0, 0, 1],
      [0.3, 0, 1],
      [0, 0.3, 1],
    ] as const) {
      world.push(turn(transposed(truth), axis));
      canvas.push(turn(found, axis));
    }
  });
  return rotationBetween(world, canvas);
}

/** Views of a panorama's report. */
export function viewsOf(report: Report): TurnedView[] {
  return report.frames.map(({ alignment: { parameters: p } }) => {
    if (!p) throw new Error('the report names no turned cameras');
    const numbers = (key: string): number[] => p[key] as number[];
    return {
      model: 'rotating-camera',
      canvas: {
        projection: p['projection'] as Projection,
        focalPx: p['canvasFocalPx'] as number,
        axis: numbers('canvasAxis') as [number, number],
      },
      rotation: numbers('rotation') as unknown as Matrix3,
      focalPx: p['focalPx'] as number,
      centre: numbers('centre') as [number, number],
      halfDiagonalPx: p['halfDiagonalPx'] as number,
      distortion: numbers('distortion') as [number, number],
      vignetting: numbers('vignetting') as [number, number],
    };
  });
}

type PlaceMap = (x: number, y: number) => readonly [number, number] | null;

const GRID = 9;

/** Where the report's frames lie on each other against truth: gauge-free, for each pair with a fair overlap. */
export function pairErrors(scene: ShotScene, report: Report): number[] {
  const turnedViews = report.frames[0]?.alignment.model === 'rotating-camera' ? viewsOf(report) : null;
  const toMerge = report.frames.map((f, k): PlaceMap => {
    const matrix = f.alignment.matrix as unknown as Matrix3;
    return turnedViews ? (x, y) => frameToMerge(turnedViews[k]!, x, y) : (x, y) => applyMatrix(matrix, x, y);
  });
  const toFrame = report.frames.map((f, k): PlaceMap => {
    const inverse = invertMatrix(f.alignment.matrix as unknown as Matrix3);
    return turnedViews ? (x, y) => mergeToFrame(turnedViews[k]!, x, y) : (x, y) => applyMatrix(inverse, x, y);
  });
  const views = report.frames.map((f) => shotOf(scene.plan, scene.kept[scene.names.indexOf(f.file)]!).view);
  const out: number[] = [];
  const rays = makeRayRow(1);
  views.forEach((from, i) => {
    views.forEach((to, j) => {
      if (j <= i) return;
      const errors: number[] = [];
      for (let n = 0; n < GRID * GRID; n++) {
        const x = (((n % GRID) + 0.5) / GRID) * from.width;
        const y = ((Math.floor(n / GRID) + 0.5) / GRID) * from.height;
        castRow(from, y, x - 0.5, 1, 1, rays);
        const truth = projectRay(to, rays.x[0]!, rays.y[0]!, rays.z[0]!);
        if (!truth || truth[0] < 0 || truth[1] < 0 || truth[0] > to.width || truth[1] > to.height) continue;
        const at = toMerge[i]!(x, y);
        const found = at && toFrame[j]!(at[0], at[1]);
        errors.push(found ? Math.hypot(found[0] - truth[0], found[1] - truth[1]) : Infinity);
      }
      if (errors.length >= 4) out.push(median(errors));
    });
  });
  return out;
}

/** The angle between true verticals and the columns of the merge, the most at three places across, degrees. */
function leanOf(scene: ShotScene, report: Report): number {
  const views = viewsOf(report);
  const { canvas } = views[0]!;
  const axes = trueAxes(scene, report, views) as Matrix3;
  const { width, height } = report.merge;
  const leans = [0.2, 0.5, 0.8].map((share) => {
    // From a place of the merge straight up in the world, by a tenth of its distance.
    const ray = canvasRay(canvas, share * width, height / 2);
    const here = turn(transposed(axes), ray);
    const above = turn(axes, [here[0], here[1] - 0.1 * Math.hypot(...here), here[2]]);
    const at = rayOnCanvas(canvas, ...above);
    return at ? Math.abs(Math.atan2(at[0] - share * width, height / 2 - at[1])) : 0;
  });
  return (Math.max(...leans) * 180) / Math.PI;
}
