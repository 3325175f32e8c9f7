// An order to the camera carried out: the files on a card, and if wanted a merge made elsewhere with its truth.
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import {
  shootSettingsSchema,
  type CardOrder,
  type ShootMenu,
  type ShootOrder,
  type ShootSubject,
} from '@blendrak/contract';
import {
  checkAssignment,
  defaultSettings,
  EVERY_FAULT,
  frameSize,
  KIND_OF,
  planSet,
  SettingError,
  SUBJECTS,
  type Assignment,
  type FaultPlan,
  type SetKind,
} from '@blendrak/scene';
import { InputError } from '../../codecs';
import { openCamera } from './cameraPool';
import { composeElsewhere } from './composeElsewhere';
import { photograph, photographHand } from './photograph';
import { leaveOut } from './leaveOut';
import { shootCard, type CardTruth } from './shootCard';
import { writeTruth } from './truthFile';

const TITLES: Readonly<Record<ShootSubject, readonly [title: string, frames: number]>> = {
  'gear-train': ['Signal lamp gear train', 10],
  'signal-flags': ['Signal flags and rope splice', 8],
  cove: ['The cove, panorama', 4],
  tower: ['The tower, vertical pair', 2],
  'lamp-room': ['Lamp room, bracket', 3],
  'tower-nested': ['The tower, sky blended first', 2],
};

/** What can be ordered. */
export function shootMenu(): ShootMenu {
  return SUBJECTS.map((subject) => {
    const [title, frames] = TITLES[subject];
    const settings = shootSettingsSchema.strip().parse(defaultSettings(subject));
    const assignment = { subject, seed: 1, frames, ...frameSize(subject, 1600), settings: defaultSettings(subject) };
    const { nearMm, farMm } = planSet(assignment).stage.world;
    const subjectMm = { near: nearMm, far: Number.isFinite(farMm) ? farMm : null };
    return { subject, kind: KIND_OF[subject], title, frames, settings, subjectMm };
  });
}

export function kindOfSubject(subject: ShootSubject): SetKind {
  return KIND_OF[subject];
}

function assignmentOf({ subject, seed, longSidePx, frames, settings }: ShootOrder): Assignment {
  return {
    subject,
    seed,
    frames,
    ...frameSize(subject, longSidePx),
    settings: { ...settings, shakenFrame: null, fringedFrame: null },
  };
}

/**
 * Checks an order beyond its schema.
 * @throws InputError that names the setting, its value and what is accepted
 */
export function checkOrder(order: ShootOrder): void {
  try {
    checkAssignment(assignmentOf(order));
  } catch (error) {
    if (!(error instanceof SettingError)) throw error;
    throw new InputError(error.setting, `${error.value} cannot be photographed`, error.accepted);
  }
}

/** The card as the camera hands it over. */
export interface Card {
  /** Folder of the frames. */
  readonly folder: string;
  readonly merge: string | null;
}

/** Pause between two sets of a card: long enough to walk to the next subject. */
const WALK_S = 95;

/**
 * Photographs several sets onto one card.
 * @param folder receives the files, numbered on in order of time
 */
export async function shootCardOrder(
  { sets }: CardOrder,
  folder: string,
  onProgress: (share: number, message: string) => void,
  signal?: AbortSignal,
): Promise<CardTruth> {
  const camera = openCamera();
  try {
    const card = sets.map((order) => ({
      assignment: assignmentOf(order),
      separator: order.separator,
      missing: null,
      pauseS: WALK_S,
    }));
    return await shootCard(camera, card, folder, { settings: true, onProgress, ...(signal && { signal }) });
  } finally {
    await camera.close();
  }
}

/** How many of each defect a merge made elsewhere is given: of those that are asked for by name, some more. */
function faultsOf({ seeded }: ShootOrder): FaultPlan {
  if (!seeded?.defects.length) return EVERY_FAULT;
  return Object.fromEntries(seeded.defects.flatMap((d) => (EVERY_FAULT[d] ? [[d, EVERY_FAULT[d] + 1]] : [])));
}

/**
 * Photographs an order.
 * @param folder of its own for this order; frames lie in its folder `card`
 */
export async function shootOrder(
  order: ShootOrder,
  folder: string,
  onProgress: (share: number, message: string) => void,
  signal?: AbortSignal,
): Promise<Card> {
  const card = join(folder, 'card');
  const rawFolder = join(folder, 'raw');
  const { format, bits, separator, mergeElsewhere, seed } = order;
  const assignment = assignmentOf(order);
  // A stack with a merge made elsewhere lacks a slice: one more is photographed and not delivered.
  const wantsGap = !order.seeded?.defects.length || order.seeded.defects.includes('focus-gap');
  const missing =
    mergeElsewhere && wantsGap && KIND_OF[order.subject] === 'focus-stack'
      ? Math.floor((order.frames + 1) * 0.6)
      : null;
  const whole = missing === null ? assignment : { ...assignment, frames: assignment.frames + 1 };
  const camera = openCamera();
  const options = {
    format,
    bits: format === 'jpeg' ? (8 as const) : bits,
    rawFolder,
    ...(signal && { signal }),
  };
  try {
    const until = mergeElsewhere ? 0.7 : 0.95;
    const set = await photograph(camera, whole, card, {
      ...options,
      onProgress: (share, message) => onProgress(until * share, message),
    });
    let merge: string | null = null;
    if (mergeElsewhere) {
      const made = await composeElsewhere(camera, set, folder, {
        faults: faultsOf(order),
        seed,
        subtle: order.seeded?.subtle ?? 0,
        leaveOut: missing,
        moments: order.seeded !== undefined,
        rawFolder,
        ...(signal && { signal }),
        onProgress: (share, message) => onProgress(until + (0.97 - until) * share, message),
      });
      writeTruth(join(folder, 'truth.json'), leaveOut(set, missing), made);
      // Exercises are marked against it.
      if (!order.seeded) rmSync(made.clean);
      merge = made.faulty;
    }
    if (separator) {
      await photographHand(camera, whole, card, 'hand', { ...options, onProgress: () => undefined });
    }
    onProgress(1, 'card full');
    return { folder: card, merge };
  } finally {
    await camera.close();
    rmSync(rawFolder, { recursive: true, force: true });
  }
}
