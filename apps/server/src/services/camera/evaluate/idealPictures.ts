// The pictures that a perfect camera would give in the place of a merge, and where nothing moved.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { MergeKind, Report } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import type { View } from '@blendrak/scene';
import { writeTiff } from '../../../codecs';
import { inParallel } from '../../../pipeline';
import type { CameraPool } from '../cameraPool';
import { stripsOf } from '../photograph';
import { createRaw, readRaw, type RawPicture } from '../rawFile';
import { canvasView, referenceOf, shotIndex, type RgbPicture, type ShotScene } from '@blendrak/evaluate';

/** Makes a merge of a folder of frames; the same way as the merge that is judged. */
export type MergeFolder = (folder: string, out: string) => Promise<void>;

/** A picture's luma, encoded 0..1. */
export interface Luma {
  readonly width: number;
  readonly height: number;
  readonly luma: Float32Array;
}

export async function readLuma(file: string): Promise<Luma> {
  const { data, info } = await sharp(file, { limitInputPixels: false })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  const values = new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2);
  return { width: info.width, height: info.height, luma: lumaOf(values, 65535) };
}

/** A picture's colours, 8 bits. */
export async function readRgb(file: string): Promise<RgbPicture> {
  const { data, info } = await sharp(file, { limitInputPixels: false })
    .toColourspace('srgb')
    .removeAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

function lumaOf(rgb: Uint8Array | Uint16Array, top: number): Float32Array {
  const out = new Float32Array(rgb.length / 3);
  for (let i = 0; i < out.length; i++) {
    out[i] = (0.2126 * rgb[3 * i]! + 0.7152 * rgb[3 * i + 1]! + 0.0722 * rgb[3 * i + 2]!) / top;
  }
  return out;
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

export async function idealFrame(camera: CameraPool, scene: ShotScene, report: Report, folder: string): Promise<Luma> {
  const { assignment } = scene.plan;
  const shot = shotIndex(scene, referenceOf(report).file);
  return takeLuma(
    await renderRaw(camera, folder, 'ideal', assignment.width, assignment.height, (region, out) =>
      camera.run('expose', { assignment, shot, region, hand: false, ideal: true, out }),
    ),
  );
}

/** Depths that the reference of a stack shows, mm. */
export async function depthOfFrame(camera: CameraPool, scene: ShotScene, report: Report): Promise<Float32Array> {
  const { assignment } = scene.plan;
  const { width, height } = assignment;
  const shot = shotIndex(scene, referenceOf(report).file);
  const out = new Float32Array(width * height);
  await inParallel(stripsOf(width, height), camera.threads, async (region) => {
    const part = await camera.run('depth', { assignment, shot, region });
    for (let y = 0; y < region.height; y++)
      out.set(part.subarray(y * region.width, (y + 1) * region.width), (region.y + y) * width + region.x);
  });
  return out;
}

/** All exposures as perfect frames of the reference's place and moment, merged the same way. */
export async function idealBracket(
  camera: CameraPool,
  scene: ShotScene,
  report: Report,
  folder: string,
  mergeFolder: MergeFolder,
): Promise<Luma> {
  const { assignment } = scene.plan;
  const { width, height } = assignment;
  const at = shotIndex(scene, referenceOf(report).file);
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
export async function idealPanorama(
  camera: CameraPool,
  scene: ShotScene,
  report: Report,
  folder: string,
): Promise<Luma> {
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

/** Change of code value between two moments that counts as motion. */
const MOVED = 0.008;

/** 1 where the world looks the same at the first, the reference's and the last moment: water, flags and pendulums have no ideal. */
export async function stillPlaces(
  camera: CameraPool,
  scene: ShotScene,
  kind: MergeKind,
  report: Report,
  folder: string,
): Promise<Uint8Array> {
  const { shots } = scene.plan;
  const view =
    kind === 'panorama' ? canvasView(scene, report) : shots[shotIndex(scene, referenceOf(report).file)]!.view;
  const moments = [shots[0]!.startS, shots[shots.length >> 1]!.startS, shots.at(-1)!.startS];
  const seen: Float32Array[] = [];
  for (const momentS of new Set(moments)) seen.push((await worldAt(camera, scene, view, momentS, folder)).luma);
  return Uint8Array.from(seen[0]!, (v, i) => (seen.every((s) => Math.abs(s[i]! - v) < MOVED) ? 1 : 0));
}
