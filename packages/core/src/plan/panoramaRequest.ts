// What a panorama is planned from.
import type { CameraBody } from './circleOfConfusion';
import type { Projection } from './panoramaCanvas';
import type { Pace } from './seriesTime';

export interface PanoramaRequest extends Pace {
  readonly camera: CameraBody;
  /** Ignored when the print decides. */
  readonly focalLengthMm: number;
  readonly orientation: 'landscape' | 'portrait';
  /** Start from a lens, or from the print wanted. */
  readonly from: 'lens' | 'print';
  readonly horizontalDeg: number;
  readonly verticalDeg: number;
  readonly overlap: number;
  /** Share of the wanted angle to shoot beyond each edge, for what levelling and warping cut off. */
  readonly edgeMargin: number;
  readonly projection: Projection;
  readonly ppi: number;
  readonly printWidthMm: number;
  readonly nearestMm: number;
  /** Null for infinity. */
  readonly farthestMm: number | null;
  readonly pupilOffsetMm: number;
  /** Exposures per direction, for a bracket at each. */
  readonly exposuresEach: number;
  readonly lightDriftEvPerMin: number;
}
