// Photographs a set into files, as if onto a card.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { tileRegion, type Region } from '@blendrak/core/image';
import { planSet, type Assignment, type SetPlan } from '@blendrak/scene';
import { inParallel } from '../../pipeline';
import type { CameraPool } from './cameraPool';
import type { FileFormat } from './cameraTasks';
import { createRaw, type RawPicture } from './rawFile';
import { settingsOf } from './shotSettings';

/** One delivered frame. */
export interface CardFile {
  readonly path: string;
  /** Its pixels, as long as the set is being worked on. */
  readonly raw: RawPicture;
}

export interface Photographed {
  readonly plan: SetPlan;
  readonly files: readonly CardFile[];
  /** Inner frames of a nested set, which are blended into a delivered one. */
  readonly inner: readonly string[];
}

export interface CardOptions {
  readonly format: FileFormat;
  readonly bits: 8 | 16;
  /** Folder for raw pixels; they stay until the caller removes it. */
  readonly rawFolder: string;
  /** Seconds after the day's first shot at which the set begins. */
  readonly startS?: number;
  /** File names start with this. */
  readonly prefix?: string;
  readonly signal?: AbortSignal;
  readonly onProgress: (share: number, message: string) => void;
}

const ENDING: Readonly<Record<FileFormat, string>> = { jpeg: 'jpg', png: 'png', tiff: 'tif' };
/** Strips of a frame that one thread renders at a time: small enough to share the work and to show progress. */
const STRIP_PX = 512;

/** Full-width strips that cover a picture. */
export function stripsOf(width: number, height: number): Region[] {
  return tileRegion({ x: 0, y: 0, width, height }, width, STRIP_PX);
}

/**
 * Photographs all frames of an assignment, two strips at a time.
 * @param folder receives the files
 * @throws SettingError for settings no camera takes
 */
export async function photograph(
  camera: CameraPool,
  assignment: Assignment,
  folder: string,
  options: CardOptions,
): Promise<Photographed> {
  const plan = planSet(assignment);
  const { format, bits, signal, onProgress, rawFolder, prefix = 'frame', startS = 0 } = options;
  mkdirSync(folder, { recursive: true });
  mkdirSync(rawFolder, { recursive: true });
  const { width, height } = assignment;
  const picture = (name: string): RawPicture => ({ path: join(rawFolder, `${name}.raw`), width, height, bits });
  const shots = plan.shots.map((_, k) => picture(`shot${k}`));
  shots.forEach(createRaw);
  const strips = plan.shots.flatMap((_, shot) => stripsOf(width, height).map((region) => ({ shot, region })));
  let done = 0;
  await inParallel(strips, camera.threads, async ({ shot, region }) => {
    await camera.run('expose', { assignment, shot, region, hand: false, ideal: false, out: shots[shot]! }, signal);
    done += 1;
    onProgress((0.9 * done) / strips.length, `photographing frame ${shot + 1} of ${plan.shots.length}`);
  });
  const digits = Math.max(2, String(plan.frames.length).length);
  const inner: string[] = [];
  const write = async (raw: RawPicture, shot: number, name: string): Promise<string> => {
    const out = join(folder, `${name}.${ENDING[format]}`);
    await camera.run('develop', { raw, out, format, settings: settingsOf(plan.shots[shot]!, startS) }, signal);
    return out;
  };
  const files = await inParallel(plan.frames, camera.threads, async (source, k): Promise<CardFile> => {
    const name = `${prefix}${String(k + 1).padStart(digits, '0')}`;
    const ground = shots[source.shot]!;
    if (source.sky === null) return { path: await write(ground, source.shot, name), raw: ground };
    const sky = shots[source.sky]!;
    mkdirSync(join(folder, 'exposures'), { recursive: true });
    inner.push(await write(ground, source.shot, join('exposures', `${name} ground`)));
    inner.push(await write(sky, source.sky, join('exposures', `${name} sky`)));
    const raw = picture(`blend${k}`);
    createRaw(raw);
    const region = { x: 0, y: 0, width, height };
    await camera.run('blend', { assignment, source, ground, sky, region, out: raw }, signal);
    return { path: await write(raw, source.shot, name), raw };
  });
  onProgress(1, `${plan.shots.length} frames photographed`);
  return { plan, files, inner };
}

/**
 * Photographs the hand that marks the end of a set.
 * @returns the file's path
 */
export async function photographHand(
  camera: CameraPool,
  assignment: Assignment,
  folder: string,
  name: string,
  options: CardOptions,
): Promise<string> {
  const plan = planSet(assignment);
  const { width, height } = assignment;
  const raw: RawPicture = { path: join(options.rawFolder, `${name}.raw`), width, height, bits: options.bits };
  mkdirSync(folder, { recursive: true });
  mkdirSync(options.rawFolder, { recursive: true });
  createRaw(raw);
  const shot = plan.shots.length - 1;
  await inParallel(stripsOf(width, height), camera.threads, (region) =>
    camera.run('expose', { assignment, shot, region, hand: true, ideal: false, out: raw }, options.signal),
  );
  const out = join(folder, `${name}.${ENDING[options.format]}`);
  const settings = settingsOf(plan.shots[shot]!, (options.startS ?? 0) + assignment.settings.intervalS);
  await camera.run('develop', { raw, out, format: options.format, settings }, options.signal);
  return out;
}
