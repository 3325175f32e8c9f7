// A frame's geometry in a merge that is another one scaled, turned and shifted.
import { badParameter } from '../checks';
import type { FrameGeometry } from './geometry';
import { composeMatrix } from './homography';
import {
  composeSimilarity,
  invertSimilarity,
  rotationDegOf,
  scaleOf,
  similarityMatrix,
  type Matrix3,
  type Similarity,
} from './transform';

/** A canvas that is not flat cannot be turned in its plane by more than this without bending, degrees. */
const MOST_TURN_DEG = 0.01;

/**
 * A frame's geometry in a merge that shows another one turned, resized or cut.
 * @param geometry of the frame in the known merge
 * @param toKnown px of the other merge → px of the known one
 * @returns the frame's geometry in the other merge
 * @throws ParameterError for a panorama's canvas turned in its plane
 */
export function inAnotherMerge(geometry: FrameGeometry, toKnown: Similarity): FrameGeometry {
  if (geometry.model === 'similarity')
    return { ...geometry, toMerge: composeSimilarity(invertSimilarity(toKnown), geometry.toMerge) };
  if (geometry.model === 'homography')
    return { ...geometry, toFrame: composeMatrix(geometry.toFrame, similarityMatrix(toKnown)) };
  const turned = Math.abs(rotationDegOf(toKnown));
  if (turned > MOST_TURN_DEG)
    throw badParameter('inAnotherMerge.toKnown', `a turn of at most ${MOST_TURN_DEG}°`, turned);
  const scale = scaleOf(toKnown);
  const { canvas } = geometry;
  const axis = [(canvas.axis[0] - toKnown.tx) / scale, (canvas.axis[1] - toKnown.ty) / scale] as const;
  return { ...geometry, canvas: { ...canvas, focalPx: canvas.focalPx / scale, axis } };
}

/**
 * The same for a merge that is another one seen in perspective.
 * @param toKnown px of the other merge → px of the known one
 * @throws ParameterError for a turned camera, whose canvas has no perspective
 */
export function inPerspective(geometry: FrameGeometry, toKnown: Matrix3): FrameGeometry {
  if (geometry.model === 'rotating-camera')
    throw badParameter('inPerspective.geometry.model', 'similarity or homography', geometry.model);
  const toFrame =
    geometry.model === 'homography' ? geometry.toFrame : similarityMatrix(invertSimilarity(geometry.toMerge));
  const { local } = geometry;
  const shade = geometry.model === 'homography' ? geometry.shade : undefined;
  return {
    model: 'homography',
    toFrame: composeMatrix(toFrame, toKnown),
    ...(local && { local }),
    ...(shade && { shade }),
  };
}
