// An alignment that a job's last merge holds, used again when only the way of merging changed.
import type { AlignmentSettings, MergeKind } from '@blendrak/contract';
import { matrix3 } from '@blendrak/core/frame';
import { IDENTITY_TONE } from '@blendrak/core/image';
import type { MergeBody } from '../../storage';
import type { JobPicture } from './mergeOrder';
import type { Aligned, AlignedBracket, AlignedPanorama, AlignedSet } from '../../pipeline';

/** Whether a merge was made of these frames, aligned as is asked now. */
export function isSameAlignment(
  body: MergeBody,
  pictures: readonly JobPicture[],
  reference: string,
  alignment: AlignmentSettings,
): boolean {
  if (body.wantedReference !== reference || JSON.stringify(body.alignment) !== JSON.stringify(alignment)) return false;
  // Frames that could not be placed are not in the merge; they are named in its facts.
  const failed = new Set(body.facts?.failed.map((f) => f.fileName));
  const used = body.cameras ? pictures.filter((p) => !failed.has(p.name)) : pictures;
  return used.length === body.frames.length && used.every((p, k) => p.id === body.frames[k]!.pictureId);
}

/** The alignment that a merge's record holds. */
export function knownAlignment(kind: MergeKind, body: MergeBody, pictures: readonly JobPicture[]): Aligned {
  if (kind === 'panorama') return { kind, set: knownPanorama(body, pictures) };
  if (kind === 'bracket') return { kind, set: knownBracket(body, pictures) };
  return { kind, set: knownStack(body, pictures) };
}

function knownStack(body: MergeBody, pictures: readonly JobPicture[]): AlignedSet {
  return {
    ...fitOf(body),
    frames: body.frames.map((f, k) => ({ ...pictures[k]!, ...keptPlace(f), tone: f.tone })),
  };
}

function knownBracket(body: MergeBody, pictures: readonly JobPicture[]): AlignedBracket {
  return {
    ...fitOf(body),
    frames: body.frames.map((f, k) => ({
      ...pictures[k]!,
      ...keptPlace(f),
      tone: IDENTITY_TONE,
      ev: f.ev ?? 0,
    })),
    ...saidOf(body),
  };
}

function knownPanorama(body: MergeBody, pictures: readonly JobPicture[]): AlignedPanorama {
  const { rotations, focalPx, distortion, down, uprightSupport, pairs, lines } = body.cameras!;
  const byId = new Map(pictures.map((p) => [p.id, p]));
  return {
    pictures: body.frames.map((f) => byId.get(f.pictureId)!),
    rig: { rotations: rotations.map(matrix3), focalPx, distortion },
    down,
    uprightSupport,
    pairs,
    lines,
    locals: body.frames.map((f) => f.geometry.local ?? null),
    residualPx: body.frames.map((f) => f.residualPx),
    residuals: body.frames.map((f) => f.residuals.map(([x, y, offPx]) => ({ x, y, offPx }))),
    ...saidOf(body),
  };
}

function fitOf({ reference, facts }: MergeBody): Pick<AlignedSet, 'reference' | 'model' | 'bendPx'> {
  // Merges made before models could be chosen: stacks by similarities.
  return { reference, model: facts?.model ?? 'similarity', bendPx: facts?.bendPx ?? null };
}

function keptPlace(f: MergeBody['frames'][number]) {
  const { geometry, residualPx, correlation } = f;
  const blocks = f.residuals.map(([x, y, off]) => ({ x, y, shiftX: off, shiftY: 0, weight: 1 }));
  return { geometry, residualPx, correlation, blocks };
}

function saidOf({ facts }: MergeBody): Pick<AlignedPanorama, 'failed' | 'remarks'> {
  const list = (remarks: readonly { fileName: string; why: string }[] = []) =>
    remarks.map(({ fileName, why }) => ({ name: fileName, why }));
  return { failed: list(facts?.failed), remarks: list(facts?.remarks) };
}
