// A focus stack merged for a job, or one made elsewhere registered, and inspected.
import { measureBorders, type Borders } from '@blendrak/core/merge';
import {
  alignFrames,
  inspectMerge,
  mergeStack,
  registerMerge,
  type AlignedSet,
  type Inspection,
  type PlacedFrame,
  type SetPicture,
  type StepContext,
} from '../../pipeline';
import type { MergeBody } from '../../storage';
import { knownStack } from './knownAlignment';
import { alignmentOf, mergeFrame } from './makeSet';
import type { JobPicture, MadeBody, MergeRequest } from './mergeOrder';

export async function makeStack(request: MergeRequest): Promise<MadeBody> {
  const { pictures, last, context, options, wantedReference, alignment, elsewhere } = request;
  const set = last
    ? knownStack(last, pictures)
    : await alignFrames(pictures, await alignmentOf(request), context(0, 0.3));
  const made = elsewhere
    ? await importedMerge(elsewhere, set, context(0.3, 0.45))
    : await ownMerge(request, set, context(0.3, 0.65));
  const inspection = await inspectMerge(
    made.picture,
    made.picture.width,
    made.picture.height,
    made.frames,
    context(elsewhere ? 0.45 : 0.65, 1),
  );
  const { maps } = inspection;
  const borders = measureBorders({ width: maps.width, height: maps.height, labels: maps.label });
  const ids = pictures.map((p) => p.id);
  return {
    body: { ...makeBody(made, set, inspection, ids, borders), options, wantedReference, alignment },
    labels: { closest: maps.closest, shown: maps.label },
    findings: inspection.findings,
  };
}

interface MadeMerge {
  readonly picture: SetPicture;
  readonly frames: readonly PlacedFrame[];
  readonly tilesId: string;
}

async function importedMerge(picture: JobPicture, set: AlignedSet, context: StepContext): Promise<MadeMerge> {
  return { picture, frames: await registerMerge(picture, set, context), tilesId: picture.id };
}

async function ownMerge(
  { id, tiles, options: { stackMethod, gradients } }: MergeRequest,
  set: AlignedSet,
  context: StepContext,
): Promise<MadeMerge> {
  const { width, height } = set.frames[set.reference]!;
  await mergeStack(set, { method: stackMethod, gradients }, tiles, context);
  const noise = await context.run('noise', { tiles }, context.signal);
  return {
    picture: { name: 'merge.tif', tiles, noise, width, height, bits: 16, exif: null },
    frames: set.frames,
    tilesId: id,
  };
}

function makeBody(
  made: MadeMerge,
  { reference, model, bendPx }: AlignedSet,
  inspection: Inspection,
  ids: readonly string[],
  borders: Borders,
): Omit<MergeBody, 'options' | 'wantedReference' | 'alignment'> {
  const { picture, frames } = made;
  const { curvature, ...calibration } = inspection.calibration;
  return {
    fileName: picture.name,
    width: picture.width,
    height: picture.height,
    bits: picture.bits,
    reference,
    noise: [...picture.noise],
    axis: { positions: [...inspection.axis.positions], source: inspection.axis.source },
    calibration: { ...calibration, curvature: Number.isFinite(curvature) ? curvature : null },
    cameras: null,
    facts: {
      parts: borders.parts,
      bordersPx: borders.lengthPx,
      failed: [],
      remarks: [],
      panorama: null,
      moving: null,
      model,
      bendPx,
    },
    tilesId: made.tilesId,
    frames: frames.map((f, k) => ({
      ...mergeFrame(f, ids[k]!, inspection.shares[k]!, picture.width, picture.height, frames.length),
      focusPosition: inspection.axis.positions[k]!,
    })),
  };
}
