// An alignment that a job's last merge holds, used again when only the way of merging changed.
import type { AlignmentSettings, FrameRemark } from '@blendrak/contract';
import { matrix3 } from '@blendrak/core/frame';
import { IDENTITY_TONE } from '@blendrak/core/image';
import type { MergeBody, PanoramaCameras } from '../../storage';
import type { JobPicture } from './mergeOrder';
import type { Aligned, AlignedBracket, AlignedPanorama, AlignedSet } from '../../pipeline';

type FactsOf<Kind extends MergeBody['facts']['kind']> = Extract<MergeBody['facts'], { kind: Kind }>;

/** Whether a merge was made of these frames, aligned as is asked now. */
export function isSameAlignment(
  body: MergeBody,
  pictures: readonly JobPicture[],
  reference: string,
  alignment: AlignmentSettings,
): boolean {
  if (body.wantedReference !== reference || JSON.stringify(body.alignment) !== JSON.stringify(alignment)) return false;
  // Frames that could not be placed are not in the merge; they are named in its facts.
  const failed = new Set(body.facts.failed.map((f) => f.fileName));
  const used = body.facts.kind === 'panorama' ? pictures.filter((p) => !failed.has(p.name)) : pictures;
  return used.length === body.frames.length && used.every((p, k) => p.id === body.frames[k]!.pictureId);
}

/** The alignment that a merge's record holds; null when it holds none that merging could go on from. */
export function knownAlignment(body: MergeBody, pictures: readonly JobPicture[]): Aligned | null {
  const { facts } = body;
  switch (facts.kind) {
    case 'panorama':
      return facts.cameras && { kind: facts.kind, set: knownPanorama(body, facts, facts.cameras, pictures) };
    case 'bracket':
      return { kind: facts.kind, set: knownBracket(body, facts, pictures) };
    case 'focus-stack':
      return { kind: facts.kind, set: knownStack(body, facts, pictures) };
  }
}

function knownStack(body: MergeBody, facts: FactsOf<'focus-stack'>, pictures: readonly JobPicture[]): AlignedSet {
  return {
    ...fitOf(body, facts),
    frames: body.frames.map((f, k) => ({ ...pictures[k]!, ...keptPlace(f), tone: f.tone })),
  };
}

function knownBracket(body: MergeBody, facts: FactsOf<'bracket'>, pictures: readonly JobPicture[]): AlignedBracket {
  return {
    ...fitOf(body, facts),
    frames: body.frames.map((f, k) => ({
      ...pictures[k]!,
      ...keptPlace(f),
      tone: IDENTITY_TONE,
      ev: facts.evs[k] ?? 0,
    })),
    ...saidOf(facts),
  };
}

function knownPanorama(
  body: MergeBody,
  facts: FactsOf<'panorama'>,
  { rotations, focalPx, distortion, down, uprightSupport, pairs, lines }: PanoramaCameras,
  pictures: readonly JobPicture[],
): AlignedPanorama {
  const byId = new Map(pictures.map((p) => [p.id, p]));
  return {
    pictures: body.frames.map((f) => byId.get(f.pictureId)!),
    rig: { rotations: rotations.map(matrix3), focalPx, distortion },
    down,
    uprightSupport,
    pairs,
    lines,
    locals: body.frames.map((f) => f.geometry.local ?? null),
    residualPx: body.frames.map((f) => f.residualPx ?? NaN),
    residuals: body.frames.map((f) => f.residuals.map(([x, y, offPx]) => ({ x, y, offPx }))),
    ...saidOf(facts),
  };
}

function fitOf(
  { reference }: MergeBody,
  { model, bendPx }: FactsOf<'focus-stack' | 'bracket'>,
): Pick<AlignedSet, 'reference' | 'model' | 'bendPx'> {
  return { reference, model, bendPx };
}

function keptPlace(f: MergeBody['frames'][number]) {
  const { geometry, correlation } = f;
  const blocks = f.residuals.map(([x, y, off]) => ({ x, y, shiftX: off, shiftY: 0, weight: 1 }));
  return { geometry, residualPx: f.residualPx ?? NaN, correlation, blocks };
}

function saidOf({ failed, remarks }: MergeBody['facts']): Pick<AlignedPanorama, 'failed' | 'remarks'> {
  const list = (said: readonly FrameRemark[]) => said.map(({ fileName, why }) => ({ name: fileName, why }));
  return { failed: list(failed), remarks: list(remarks) };
}
