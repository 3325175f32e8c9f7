// Step: the subject that frames are aligned on, as a mask.
import type { SubjectArea } from '@blendrak/contract';
import { paintArea, type Mask } from '@blendrak/core/image';
import { InputError } from '../../codecs';
import type { StepContext, SetPicture } from './types';

/** Longer side of the mask of a marked area. */
const MASK_PX = 400;

/**
 * @param ids of the pictures, by which a subject names the frame whose sharp part it is
 * @returns null where all of the picture counts
 * @throws InputError for a frame that is not there, or that is the sharpest nowhere
 */
export async function markSubject(
  { shapes, sharpOf }: SubjectArea,
  pictures: readonly SetPicture[],
  ids: readonly string[],
  { run, signal }: StepContext,
): Promise<Mask | null> {
  if (sharpOf !== null) {
    const index = ids.indexOf(sharpOf);
    if (index < 0)
      throw new InputError(
        'subject',
        `the frame ${sharpOf} is not in this set`,
        pictures.map((p) => p.name).join(', '),
      );
    return run('sharpPart', { pictures, index }, signal);
  }
  if (shapes.length === 0) return null;
  const { width, height } = pictures[0]!;
  const scale = MASK_PX / Math.max(width, height);
  return paintArea(shapes, Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale)));
}
