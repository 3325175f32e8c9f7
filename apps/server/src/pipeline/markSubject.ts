// Step: the subject that frames are aligned on, as a mask.
import type { SubjectArea } from '@blendrak/contract';
import { paintArea, type Mask } from '@blendrak/core/image';
import { InputError } from '../codecs';
import type { StepContext, SetPicture } from './types';

/** Longer side of the mask of a marked area. */
const MASK_PX = 400;
/** A smaller area holds too few px to align on. */
const LEAST_SHARE = 0.001;

/**
 * @param ids of the pictures, by which a subject names the frame whose sharp part it is
 * @returns null where all of the picture counts
 * @throws InputError for a frame that is not there, or that is the sharpest nowhere
 */
export async function markSubject(
  { shapes, sharpOf }: SubjectArea,
  pictures: readonly SetPicture[],
  ids: readonly string[],
  context: Pick<StepContext, 'run' | 'signal'>,
): Promise<Mask | null> {
  if (sharpOf !== null) {
    const index = ids.indexOf(sharpOf);
    if (index < 0)
      throw new InputError(
        'subject',
        `the frame ${sharpOf} is not in this set`,
        pictures.map((p) => p.name).join(', '),
      );
    return sharpPartOf(pictures, index, context);
  }
  if (shapes.length === 0) return null;
  const { width, height } = pictures[0]!;
  const scale = MASK_PX / Math.max(width, height);
  const mask = paintArea(shapes, Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale)));
  const share = mask.data.reduce((s, v) => s + v, 0) / mask.data.length;
  if (share < LEAST_SHARE)
    throw new InputError(
      'subject',
      `the marked area covers ${(100 * share).toFixed(2)} % of the picture`,
      `${100 * LEAST_SHARE} % or more`,
    );
  return mask;
}

/**
 * The part of a frame that is sharp in it.
 * @throws InputError when others are sharper everywhere
 */
export async function sharpPartOf(
  pictures: readonly SetPicture[],
  index: number,
  { run, signal }: Pick<StepContext, 'run' | 'signal'>,
): Promise<Mask> {
  const mask = await run('sharpPart', { pictures, index }, signal);
  if (!mask)
    throw new InputError(
      pictures[index]!.name,
      'nothing in this frame is sharp beyond noise and beyond the other frames',
      'a frame in which the subject is in focus',
    );
  return mask;
}
