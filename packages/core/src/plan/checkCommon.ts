// Checks that all planners share.
import type { CameraBody } from './circleOfConfusion';
import type { ProblemList } from './problem';
import type { Pace } from './seriesTime';

/** Sensor sizes from a fingernail to a sheet of film, and pixels that fit. */
export function checkCamera(list: ProblemList, camera: CameraBody): void {
  list.range('camera.sensorWidthMm', 'sensor width', camera.sensorWidthMm, 2, 300, 'mm');
  list.range('camera.sensorHeightMm', 'sensor height', camera.sensorHeightMm, 2, 300, 'mm');
  list.range('camera.pixelsWide', 'pixels across', camera.pixelsWide, 300, 100_000, 'px');
  list.range('camera.pixelsHigh', 'pixels down', camera.pixelsHigh, 300, 100_000, 'px');
  const pitchX = camera.sensorWidthMm / camera.pixelsWide;
  const pitchY = camera.sensorHeightMm / camera.pixelsHigh;
  if (Math.abs(pitchX / pitchY - 1) > 0.05)
    list.error(
      'camera.pixelsHigh',
      `pixels are square in every camera: ${camera.pixelsWide} × ${camera.pixelsHigh} px do not fit a sensor of ` +
        `${camera.sensorWidthMm} × ${camera.sensorHeightMm} mm.`,
    );
}

/** Notes an overlap that cannot be; `overlap` is a share of the frame, 0 to below 0.95. */
export function checkOverlap(list: ProblemList, overlap: number): void {
  if (!(overlap >= 0 && overlap < 0.95))
    list.error(
      'overlap',
      `overlap: ${Number.isFinite(overlap) ? `${Number((overlap * 100).toPrecision(4))} %` : 'no number'}. From 0 to 94 % is accepted: at 100 % the series never moves on.`,
    );
}

/** Notes times (s) and a drift of light (EV per minute) that cannot be. */
export function checkPace(list: ProblemList, pace: Pace & { readonly lightDriftEvPerMin: number }): void {
  list.range('exposureS', 'exposure', pace.exposureS, 1e-5, 3600, 's');
  list.range('settleS', 'settling time', pace.settleS, 0, 600, 's');
  list.range('delayS', 'delay', pace.delayS, 0, 600, 's');
  list.range('bufferS', 'buffer', pace.bufferS, 0, 3600, 's');
  list.range('lightDriftEvPerMin', 'light drift', pace.lightDriftEvPerMin, -5, 5, 'EV/min');
}
