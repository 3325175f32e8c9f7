// Tasks `planes`, `localFields` and `sharpPart`: what concerns all frames of a set at once.
import { chooseModel, findSharpPart, solveLocalFields, solvePlanes } from '@blendrak/core/align';
import type { FrameGeometry, LocalField } from '@blendrak/core/frame';
import type { Mask } from '@blendrak/core/image';
import type { FittedPlanes, TaskRequest } from '../protocol';
import { tileFile } from '../sources';
import { levelFor, levelNoise, lumaPlane, WORK_LONG_SIDE } from '../workingLevels';

/** What is sharp shows at about the size that registration works on. */
const SHARP_LONG_SIDE = 1300;
/** Frames that a frame's sharpness is compared with, spread over the set. */
const MOST_COMPARED = 24;

export function planesTask(request: TaskRequest<'planes'>): FittedPlanes {
  const { pictures, reference, start, pairs, model, bendPx } = request;
  const { width, height, tiles } = pictures[reference]!;
  const unitPx = 2 ** levelFor(tileFile(tiles), WORK_LONG_SIDE);
  const solved =
    model === 'auto'
      ? chooseModel(reference, start, pairs, width, height, unitPx)
      : { model, ...solvePlanes(reference, start, pairs, model, width, height) };
  const views = solved.toFrame.map((toFrame): FrameGeometry => ({ model: 'homography', toFrame }));
  const locals = bendPx > 0 ? solveLocalFields(views, pictures, pairs, reference, bendPx) : views.map(() => null);
  return { ...solved, locals };
}

export function localFieldsTask({
  views,
  sizes,
  pairs,
  bendPx,
}: TaskRequest<'localFields'>): readonly (LocalField | null)[] {
  return solveLocalFields(views, sizes, pairs, null, bendPx);
}

export function sharpPartTask({ pictures, index }: TaskRequest<'sharpPart'>): Mask | null {
  const every = Math.max(1, Math.ceil(pictures.length / MOST_COMPARED));
  const compared = pictures.flatMap((picture, k) => (k === index || k % every === 0 ? [{ picture, k }] : []));
  const level = levelFor(tileFile(pictures[index]!.tiles), SHARP_LONG_SIDE);
  return findSharpPart(
    compared.map(({ picture }) => lumaPlane(tileFile(picture.tiles), level)),
    levelNoise(pictures[index]!, level),
    compared.findIndex(({ k }) => k === index),
  );
}
