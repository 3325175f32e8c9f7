// What the simulated camera writes into its files about a shot.
import type { PlannedShot } from '@blendrak/scene';
import type { TiffSettings } from '../../codecs';

/** Diagonal of 36 × 24 mm. */
const FULL_DIAGONAL_MM = 43.267;
/** The day in the sample world on which everything is photographed. */
const FIRST_SHOT = Date.UTC(2026, 4, 12, 10, 21, 7);

/**
 * Settings of a shot for the file.
 * @param startS when its set began, seconds after the first of the day
 */
export function settingsOf(shot: PlannedShot, startS: number): TiffSettings {
  const { lens, view } = shot;
  const time = new Date(FIRST_SHOT + 1000 * Math.round(startS + shot.startS)).toISOString();
  return {
    make: 'Simulated',
    model: shot.focusMm !== null && shot.focusMm < 1000 ? 'Bench Camera' : 'Field Camera',
    lens: `${lens.focalLengthMm} mm`,
    takenAt: time.slice(0, 19).replaceAll('-', ':').replace('T', ' '),
    exposureS: shot.exposureS,
    fNumber: lens.fNumber,
    focalLengthMm: lens.focalLengthMm,
    focalLength35Mm: Math.round(
      (lens.focalLengthMm * FULL_DIAGONAL_MM) / (2 * view.halfDiagonalPx * lens.pixelPitchMm),
    ),
    iso: Math.round(shot.amplification * 100),
    focusDistanceM: shot.focusMm !== null && Number.isFinite(shot.focusMm) ? shot.focusMm / 1000 : null,
  };
}

/** The same as the picture library writes them into JPEG and PNG. */
export function exifOf(s: TiffSettings): Record<string, Record<string, string>> {
  const exposure = s.exposureS < 0.3 ? `1/${Math.round(1 / s.exposureS)}` : `${Math.round(s.exposureS * 1000)}/1000`;
  const distance =
    s.focusDistanceM === null ? {} : { SubjectDistance: `${Math.round(s.focusDistanceM * 10_000)}/10000` };
  return {
    IFD0: { Make: s.make, Model: s.model },
    IFD2: {
      DateTimeOriginal: s.takenAt,
      ExposureTime: exposure,
      FNumber: `${Math.round(s.fNumber * 10)}/10`,
      FocalLength: `${Math.round(s.focalLengthMm * 10)}/10`,
      FocalLengthIn35mmFilm: String(s.focalLength35Mm),
      ISOSpeedRatings: String(s.iso),
      LensModel: s.lens,
      ...distance,
    },
  };
}
