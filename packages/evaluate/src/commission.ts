// Fresh sets for evaluation: a seed decides the subject, what the photographer did, and what a merge of it suffers.
import {
  defaultSettings,
  EVERY_FAULT,
  frameSize,
  makeRandom,
  type Assignment,
  type FaultPlan,
  type SetKind,
  type Subject,
} from '@blendrak/scene';

export interface Commission {
  readonly assignment: Assignment;
  readonly leaveOut: number | null;
  readonly faults: FaultPlan;
  /** Share of faults that are made faint. */
  readonly subtle: number;
}

const SUBJECTS_OF: Readonly<Record<SetKind, readonly Subject[]>> = {
  'focus-stack': ['gear-train', 'signal-flags'],
  panorama: ['cove', 'tower', 'cove', 'tower-nested'],
  bracket: ['lamp-room'],
};
const SUBTLE = 0.25;

/**
 * @param seed subject, layout, light, accidents and faults follow from it; neighbouring seeds take turns with the subjects
 * @param longSide longer side of a frame, px
 */
export function freshCommission(kind: SetKind, seed: number, longSide: number): Commission {
  const random = makeRandom(seed * 15485863 + 11);
  const subjects = SUBJECTS_OF[kind];
  const subject = subjects[seed % subjects.length]!;
  const count = framesOf(subject, seed);
  const pick = (): number => Math.floor(random() * count);
  const fringedFrame = pick();
  const shakenFrame = kind === 'focus-stack' ? null : pick();
  const assignment: Assignment = {
    subject,
    seed,
    ...frameSize(subject, longSide),
    frames: count,
    settings: {
      ...defaultSettings(subject),
      rows: subject === 'cove' && seed % 8 >= 4 ? 2 : 1,
      wind: 0.4 + random(),
      dust: random() < 0.4 ? 2 + Math.floor(random() * 4) : 0,
      pupilOffsetMm: random() < 0.5 ? 0 : 60,
      uncorrected: random() < 0.2,
      fringedFrame: subject === 'tower-nested' ? null : fringedFrame,
      shakenFrame: subject === 'tower-nested' ? null : shakenFrame,
    },
  };
  // Every other pair of stacks lacks a slice; the others are complete.
  const leaveOut = kind === 'focus-stack' && seed % 4 < 2 ? 2 + Math.floor(random() * (count - 4)) : null;
  return { assignment, leaveOut, faults: EVERY_FAULT, subtle: SUBTLE };
}

function framesOf(subject: Subject, seed: number): number {
  if (subject === 'cove') return seed % 8 >= 4 ? 3 : 4;
  if (subject === 'lamp-room') return [3, 5, 7][seed % 3]!;
  return subject === 'tower' || subject === 'tower-nested' ? 2 : 11;
}
