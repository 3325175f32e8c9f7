// How a frame lies in a merge: a closed set of variants, each with an optional smooth local field. Whoever needs to know where
// something lies asks `mergeToFrame`, `frameToMerge`, `warpFrame`, `coveredCells` or `footprintOf`, and no one looks inside.
import type { Canvas } from './canvas';
import type { LensShade, LensView } from './lens';
import type { LocalField } from './localField';
import { IDENTITY, type Matrix3, type Similarity } from './transform';

interface Refined {
  /** Local shifts on top of the model, px of the frame; none when left out. */
  readonly local?: LocalField;
}

/** A frame that is scaled, turned in its plane and shifted: frame px → merge px. */
export interface SimilarityGeometry extends Refined {
  readonly model: 'similarity';
  readonly toMerge: Similarity;
}

/** A frame on a plane seen at an angle: merge px → frame px. */
export interface HomographyGeometry extends Refined {
  readonly model: 'homography';
  readonly toFrame: Matrix3;
  readonly shade?: LensShade;
}

/** A frame of a camera that turned on the spot. */
export interface TurnedGeometry extends Refined, LensShade, LensView {
  readonly model: 'rotating-camera';
  readonly canvas: Canvas;
  /** Canvas axes (x right, y down, z ahead) → camera axes. */
  readonly rotation: Matrix3;
  readonly focalPx: number;
}

export type FrameGeometry = SimilarityGeometry | HomographyGeometry | TurnedGeometry;

/** A picture that lies on itself. */
export const SAME_PLACE: SimilarityGeometry = { model: 'similarity', toMerge: IDENTITY };

/** The geometry of a frame that is scaled, turned and shifted only. */
export function similarityGeometry(toMerge: Similarity): SimilarityGeometry {
  return { model: 'similarity', toMerge };
}

/** What a geometry knows of how its lens darkens; null for nothing. */
export function shadeOf(geometry: FrameGeometry): LensShade | null {
  if (geometry.model === 'rotating-camera') return geometry;
  return geometry.model === 'homography' ? (geometry.shade ?? null) : null;
}

/**
 * A geometry with the vignetting that the merge was freed of.
 * @param frame its size, px
 * @returns the same for frames that are only shifted and turned: their merges keep what the lens did
 */
export function withVignetting(
  geometry: FrameGeometry,
  { width, height }: { readonly width: number; readonly height: number },
  vignetting: LensShade['vignetting'],
): FrameGeometry {
  if (geometry.model === 'similarity') return geometry;
  if (geometry.model === 'rotating-camera') return { ...geometry, vignetting };
  const shade = { centre: [width / 2, height / 2] as const, halfDiagonalPx: Math.hypot(width, height) / 2, vignetting };
  return { ...geometry, shade };
}
