// What a panorama cannot be planned from, and what ought to be thought over.
import { checkCamera, checkOverlap, checkPace } from './checkCommon';
import { FLAT_LIMIT_DEG } from './panoramaCanvas';
import type { PanoramaRequest } from './panoramaRequest';
import type { ParallaxVerdict } from './parallax';
import type { ProblemList } from './problem';
import { LIGHT_DRIFT_LIMIT_EV } from './seriesTime';

/** Checks all fields. */
export function checkPanoramaRequest(list: ProblemList, request: PanoramaRequest): void {
  const { horizontalDeg, verticalDeg, projection, nearestMm, farthestMm } = request;
  checkCamera(list, request.camera);
  if (request.from === 'lens') list.range('focalLengthMm', 'focal length', request.focalLengthMm, 4, 2000, 'mm');
  list.range('horizontalDeg', 'angle across', horizontalDeg, 1, 360, '°');
  list.range('verticalDeg', 'angle up and down', verticalDeg, 1, 180, '°');
  if (projection === 'flat' && horizontalDeg > FLAT_LIMIT_DEG)
    list.error(
      'projection',
      `flat perspective: ${horizontalDeg}° across. Up to ${FLAT_LIMIT_DEG}° is accepted, since the edges stretch without end beyond; a cylinder takes more.`,
    );
  if ((projection === 'flat' || projection === 'cylindrical') && verticalDeg > FLAT_LIMIT_DEG)
    list.error(
      'projection',
      `${projection}: ${verticalDeg}° up and down. Up to ${FLAT_LIMIT_DEG}° is accepted; a sphere takes more.`,
    );
  if (projection === 'repositioned' && horizontalDeg >= 360)
    list.error(
      'projection',
      'plain repositioning: a full turn has no ends to lay side by side. Less than 360° is accepted.',
    );
  checkOverlap(list, request.overlap);
  list.range('edgeMargin', 'margin at the edges, share', request.edgeMargin, 0, 0.5, '');
  list.range('ppi', 'print resolution', request.ppi, 20, 2400, 'ppi');
  if (request.from === 'print') list.range('printWidthMm', 'print width', request.printWidthMm, 50, 50_000, 'mm');
  list.range('nearestMm', 'nearest thing', nearestMm, 20, 1e7, 'mm');
  if (farthestMm !== null && !(farthestMm >= nearestMm))
    list.error(
      'farthestMm',
      `farthest thing: ${farthestMm} mm. At least the nearest (${nearestMm} mm), or infinity, is accepted.`,
    );
  list.range('pupilOffsetMm', 'pupil offset', request.pupilOffsetMm, -500, 500, 'mm');
  if (!(Number.isInteger(request.exposuresEach) && request.exposuresEach >= 1 && request.exposuresEach <= 15))
    list.error(
      'exposuresEach',
      `exposures at each direction: ${request.exposuresEach}. A whole number from 1 to 15 is accepted.`,
    );
  checkPace(list, request);
}

/** What of a plan may bring warnings. */
interface Warned {
  readonly parallax: ParallaxVerdict;
  readonly parallaxPx: number;
  readonly allowedOffsetMm: number;
  readonly canvas: { readonly megapixels: number };
  readonly driftEv: number;
}

/** Warns of what can be shot but will be regretted. */
export function warnOfPanorama(list: ProblemList, request: PanoramaRequest, plan: Warned): void {
  if (request.overlap < 0.25)
    list.warn('overlap', 'Under 25 %: little is left to match frames by. 25 to 40 % is usual.');
  if (request.overlap > 0.5)
    list.warn('overlap', 'Over 50 %: more frames and more seams than needed. 25 to 40 % is usual.');
  if (plan.parallax === 'breaks-edges')
    list.warn(
      'pupilOffsetMm',
      `Near things shift by ${plan.parallaxPx.toFixed(1)} px against far ones: edges will break. Turn about the entrance pupil: up to ${plan.allowedOffsetMm.toFixed(1)} mm off goes unseen here.`,
    );
  if (plan.canvas.megapixels > 900)
    list.warn('projection', `${Math.round(plan.canvas.megapixels)} MP: more than Blendrak can merge (900 MP).`);
  if (plan.driftEv > LIGHT_DRIFT_LIMIT_EV)
    list.warn(
      'lightDriftEvPerMin',
      `The light changes by ${plan.driftEv.toFixed(2)} EV meanwhile: more than 0.1 EV shows as a step in tone.`,
    );
}
