// What can be chosen for an alignment, in words, and what was done, in a sentence.
import type { AlignmentSettings, Merge, SubjectArea } from '@blendrak/contract';

export type SubjectKind = 'all' | 'area' | 'sharp';

export const SUBJECTS: readonly (readonly [SubjectKind, string])[] = [
  ['all', 'The whole picture'],
  ['area', 'A subject that I mark'],
  ['sharp', 'What is sharp in one frame'],
];

export const MODELS: readonly (readonly [AlignmentSettings['model'], string])[] = [
  ['auto', 'As many freedoms as are needed'],
  ['shift', 'Shift alone'],
  ['similarity', 'Shift, turn and scale'],
  ['affine', 'With shear and unequal scale'],
  ['homography', 'With perspective: for a camera in the hand'],
];

export const BENDS: readonly (readonly [string, string])[] = [
  ['0', 'None'],
  ['0.5', 'Lines bend by up to 0.5 px'],
  ['1', 'Lines bend by up to 1 px'],
  ['2', 'Lines bend by up to 2 px'],
  ['5', 'Lines bend by up to 5 px'],
];

export function subjectKind({ shapes, sharpOf }: SubjectArea): SubjectKind {
  if (sharpOf !== null) return 'sharp';
  return shapes.length > 0 ? 'area' : 'all';
}

/** An empty subject of a kind; the sharp part begins with the given frame. */
export function withSubject(kind: SubjectKind, pictureId: string): SubjectArea {
  return { shapes: [], sharpOf: kind === 'sharp' ? pictureId : null };
}

const MODEL_WORDS = {
  shift: 'by shifts',
  similarity: 'by shift, turn and scale',
  affine: 'by affine maps',
  homography: 'by perspective maps',
} as const;

/** How the frames were aligned. */
export function alignedWords({ alignment, frames, facts }: Merge): string {
  const { shapes, sharpOf } = alignment.subject;
  const on =
    sharpOf !== null
      ? `on what is sharp in ${frames.find((f) => f.pictureId === sharpOf)?.fileName ?? 'a frame that is gone'}`
      : shapes.length > 0
        ? 'on the marked subject'
        : 'on the whole picture';
  const how = facts.kind === 'panorama' ? '' : ` ${MODEL_WORDS[facts.model]}`;
  const bent = facts.bendPx === null ? '' : ` Local shifts bend straight lines by up to ${facts.bendPx.toFixed(2)} px.`;
  return `Aligned ${on}${how}.${bent}`;
}
