// A whole card: several sets one after the other in one folder, numbered on, as people bring it home.
import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { KIND_OF, type Assignment, type SetKind } from '@blendrak/scene';
import type { CameraPool } from './cameraPool';
import { leaveOut } from './leaveOut';
import { photograph, photographHand } from './photograph';

/** One set of a card. */
export interface CardSet {
  readonly assignment: Assignment;
  /** Ends with a frame of the hand. */
  readonly separator: boolean;
  /** Slice, exposure or direction that was forgotten, or null. */
  readonly missing: number | null;
  /** Seconds of pause after the set. */
  readonly pauseS: number;
}

/** What is on a card, by file name. */
export interface CardTruth {
  readonly sets: readonly { readonly kind: SetKind; readonly frames: readonly string[] }[];
  readonly separators: readonly string[];
}

/**
 * Photographs a card.
 * @param options.settings false strips what the camera wrote into the files
 */
export async function shootCard(
  camera: CameraPool,
  sets: readonly CardSet[],
  folder: string,
  options: {
    readonly settings: boolean;
    readonly signal?: AbortSignal;
    readonly onProgress?: (share: number, message: string) => void;
  },
): Promise<CardTruth> {
  const work = join(folder, 'shooting');
  const rawFolder = join(work, 'raw');
  mkdirSync(work, { recursive: true });
  const truth: { sets: { kind: SetKind; frames: string[] }[]; separators: string[] } = { sets: [], separators: [] };
  let number = 0;
  let startS = 0;
  const deliver = async (path: string): Promise<string> => {
    number += 1;
    const name = `kp_${String(number).padStart(4, '0')}.jpg`;
    if (options.settings) renameSync(path, join(folder, name));
    else writeFileSync(join(folder, name), await sharp(path).jpeg({ quality: 95 }).toBuffer());
    return name;
  };
  for (const [at, set] of sets.entries()) {
    const common = {
      format: 'jpeg',
      bits: 8,
      rawFolder,
      startS,
      onProgress: (share: number, message: string) => options.onProgress?.((at + share) / sets.length, message),
      ...(options.signal && { signal: options.signal }),
    } as const;
    const shot = leaveOut(await photograph(camera, set.assignment, work, common), set.missing);
    const frames: string[] = [];
    for (const [k, file] of shot.files.entries()) if (k !== set.missing) frames.push(await deliver(file.path));
    truth.sets.push({ kind: KIND_OF[set.assignment.subject], frames });
    const length = shot.plan.shots.length * set.assignment.settings.intervalS;
    if (set.separator) {
      const hand = await photographHand(camera, set.assignment, work, 'hand', { ...common, startS });
      truth.separators.push(await deliver(hand));
    }
    startS += length + set.pauseS;
    rmSync(rawFolder, { recursive: true, force: true });
  }
  rmSync(work, { recursive: true, force: true });
  return truth;
}
