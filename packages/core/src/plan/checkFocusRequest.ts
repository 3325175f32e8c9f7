// What a focus stack cannot be planned from, and what ought to be thought over.
import { NARROWEST_ADVISED, WIDEST_ADVISED } from './apertures';
import { checkCamera, checkOverlap, checkPace } from './checkCommon';
import type { FocusRequest } from './focusRequest';
import { gatherProblems, type ProblemList } from './problem';

/** Checks all fields; a later one may be judged by what an earlier one says. */
export function checkFocusRequest(request: FocusRequest): ProblemList {
  const list = gatherProblems();
  checkCamera(list, request.camera);
  checkLens(list, request);
  if (request.drive === 'focus') checkDistances(list, request);
  else checkRail(list, request);
  checkOverlap(list, request.overlap);
  if (request.overlap < 0.1 && request.overlap >= 0)
    list.warn('overlap', 'Under 10 %: the least slip of the focus leaves a gap that cannot be repaired.');
  if (request.overlap > 0.6 && request.overlap < 1) list.warn('overlap', 'Over 60 %: many frames will add nothing.');
  if (!(Number.isInteger(request.spare) && request.spare >= 0 && request.spare <= 5))
    list.error('spare', `spare slices: ${request.spare}. A whole number from 0 to 5 is accepted.`);
  checkPace(list, request);
  list.range('motionMmPerS', 'speed', request.motionMmPerS, 0, 1e6, 'mm/s');
  list.range('motionLimitPx', 'motion limit', request.motionLimitPx, 0.1, 100, 'px');
  checkAccepted(list, request);
  return list;
}

function checkLens(list: ProblemList, { lens, fNumber }: FocusRequest): void {
  list.range('lens.focalLengthMm', 'focal length', lens.focalLengthMm, 1, 2000, 'mm');
  list.range('lens.pupilMagnification', 'pupil magnification', lens.pupilMagnification, 0.1, 10, '');
  list.range('fNumber', 'f-number', fNumber, lens.widestFNumber, lens.smallestFNumber, '');
  list.range(
    'lens.sharpestFNumber',
    'sharpest aperture',
    lens.sharpestFNumber,
    lens.widestFNumber,
    lens.smallestFNumber,
    '',
  );
  if (fNumber > NARROWEST_ADVISED) list.warn('fNumber', `Beyond f/${NARROWEST_ADVISED} diffraction costs sharpness.`);
  if (fNumber < WIDEST_ADVISED)
    list.warn('fNumber', `Wider than f/${WIDEST_ADVISED} slices get thin: they hardly overlap and corners are soft.`);
}

function checkDistances(list: ProblemList, { lens, nearestMm, farthestMm, focusMm }: FocusRequest): void {
  const f = lens.focalLengthMm;
  const least = 1.02 * f;
  if (!(nearestMm > least))
    list.error(
      'nearestMm',
      `nearest point: ${words(nearestMm)}. More than the focal length of ${f} mm is accepted, since no picture forms inside it.`,
    );
  else if (nearestMm > 1e7) list.error('nearestMm', `nearest point: ${words(nearestMm)}. Up to 10 km is accepted.`);
  else if (nearestMm < lens.nearestFocusMm)
    list.warn(
      'nearestMm',
      `Nearer than this lens focuses (${words(lens.nearestFocusMm)}): it needs an extension tube, or step back.`,
    );
  if (farthestMm !== null && !(farthestMm > nearestMm))
    list.error(
      'farthestMm',
      `farthest point: ${words(farthestMm)}. More than the nearest point (${words(nearestMm)}), or infinity, is accepted.`,
    );
  if (farthestMm !== null && farthestMm > 1e8)
    list.error('farthestMm', `farthest point: ${words(farthestMm)}. Up to 100 km, or infinity, is accepted.`);
  if (focusMm?.some((mm) => mm !== null && !(mm > f)))
    list.error('focusMm', `focus distances: more than the focal length of ${f} mm is accepted.`);
  if (focusMm && focusMm.length === 0) list.error('focusMm', 'focus distances: none left. At least one is accepted.');
}

function checkRail(list: ProblemList, { depthMm, magnification, extensionMm, lens }: FocusRequest): void {
  list.range('depthMm', 'depth on the rail', depthMm, 0.001, 1000, 'mm');
  list.range('extensionMm', 'extension tubes', extensionMm, 0, 1000, 'mm');
  if (!list.range('magnification', 'magnification', magnification, 0.02, 50, '×')) return;
  const working = lens.focalLengthMm * (1 + 1 / (magnification + extensionMm / lens.focalLengthMm));
  if (depthMm > 0.5 * working && depthMm <= 1000)
    list.error(
      'depthMm',
      `depth on the rail: ${words(depthMm)}. Up to half the working distance (${words(working / 2)}) is accepted: the lens would touch the subject.`,
    );
}

function checkAccepted(list: ProblemList, { accepted }: FocusRequest): void {
  if (accepted.by === 'pixels') list.range('accepted.pixels', 'accepted blur', accepted.pixels, 0.5, 20, 'px');
  if (accepted.by === 'print') {
    list.range('accepted.printWidthMm', 'print width', accepted.printWidthMm, 20, 50_000, 'mm');
    list.range('accepted.viewingDistanceMm', 'viewing distance', accepted.viewingDistanceMm, 50, 100_000, 'mm');
  }
}

function words(mm: number): string {
  if (!Number.isFinite(mm)) return mm === Infinity ? 'infinity' : 'no number';
  return mm >= 1000 ? `${Number((mm / 1000).toPrecision(4))} m` : `${Number(mm.toPrecision(4))} mm`;
}
