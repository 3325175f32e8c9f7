// What the camera is sent out for: a subject, a size, and the settings a photographer would choose.

export const SUBJECTS = ['gear-train', 'signal-flags', 'cove', 'tower', 'lamp-room', 'tower-nested'] as const;

/**
 * gear-train, signal-flags: focus stacks. cove: a panorama of one or more rows. tower: a vertical pair. lamp-room: a bracket.
 * tower-nested: a vertical pair of which the upper frame is blended from two exposures.
 */
export type Subject = (typeof SUBJECTS)[number];

export type SetKind = 'focus-stack' | 'panorama' | 'bracket';

export const KIND_OF: Readonly<Record<Subject, SetKind>> = {
  'gear-train': 'focus-stack',
  'signal-flags': 'focus-stack',
  cove: 'panorama',
  tower: 'panorama',
  'lamp-room': 'bracket',
  'tower-nested': 'panorama',
};

/** Settings of a series; defaultSettings fills them per subject. */
export interface ShootSettings {
  readonly focalLengthMm: number;
  readonly fNumber: number;
  readonly iso: number;
  /**
   * Focus stack: dioptres between frames, null spreads them evenly from the nearest to the farthest point. Bracket: EV
   * between frames. Panorama: overlap of neighbours as a share of the frame.
   */
  readonly step: number | null;
  /** Distance of the first focus of a stack; null: the subject's nearest point. */
  readonly focusFromMm: number | null;
  /** Rows of a panorama. */
  readonly rows: number;
  /** 0 calm, 1 fresh breeze, 2 strong. */
  readonly wind: number;
  readonly support: 'tripod' | 'hand';
  /** Seconds from frame to frame. */
  readonly intervalS: number;
  /** Distance from turning axis to entrance pupil: parallax in panoramas. */
  readonly pupilOffsetMm: number;
  /** Light that fades or grows over the series, EV per minute. */
  readonly lightDriftEvPerMin: number;
  /** Leave distortion, vignetting and lateral colour in the files. */
  readonly uncorrected: boolean;
  /** Specks of dust on the sensor. */
  readonly dust: number;
  /** Frame that was shaken (index), or null. */
  readonly shakenFrame: number | null;
  /** Frame whose lateral colour was left uncorrected although the others' was corrected, or null. */
  readonly fringedFrame: number | null;
}

export interface Assignment {
  readonly subject: Subject;
  readonly seed: number;
  /** Size of one frame, px. */
  readonly width: number;
  readonly height: number;
  /** Focus distances, exposures, or columns of a panorama. */
  readonly frames: number;
  readonly settings: ShootSettings;
}

const STILL = {
  iso: 100,
  step: null,
  focusFromMm: null,
  rows: 1,
  wind: 1,
  support: 'tripod',
  intervalS: 4,
  pupilOffsetMm: 0,
  lightDriftEvPerMin: 0,
  uncorrected: false,
  dust: 0,
  shakenFrame: null,
  fringedFrame: null,
} as const;

/** Size of a subject's frames: the cove is photographed upright, for height; all else lying. Sides 4 to 3. */
export function frameSize(subject: Subject, longSidePx: number): { readonly width: number; readonly height: number } {
  const long = Math.round(longSidePx / 4) * 4;
  const short = Math.round((long * 3) / 16) * 4;
  return subject === 'cove' ? { width: short, height: long } : { width: long, height: short };
}

/** What a careful photographer would set for a subject. */
export function defaultSettings(subject: Subject): ShootSettings {
  switch (subject) {
    case 'gear-train':
    case 'signal-flags':
      return { ...STILL, focalLengthMm: 60, fNumber: 8 };
    case 'cove':
      return { ...STILL, focalLengthMm: 35, fNumber: 9, step: 0.33, intervalS: 3 };
    case 'tower':
    case 'tower-nested':
      return { ...STILL, focalLengthMm: 50, fNumber: 9, step: 0.35, intervalS: 3 };
    case 'lamp-room':
      return { ...STILL, focalLengthMm: 24, fNumber: 8, intervalS: 2 };
  }
}

/** A setting that no camera takes. */
export class SettingError extends RangeError {
  override readonly name = 'SettingError';
  constructor(
    readonly setting: string,
    readonly value: string,
    readonly accepted: string,
  ) {
    super(`${setting} is ${value}; ${accepted} is accepted`);
  }
}

/**
 * Checks an assignment.
 * @throws SettingError that names the setting, its value and what is accepted
 */
export function checkAssignment(a: Assignment): void {
  const within = (name: string, value: number, low: number, high: number, unit = ''): void => {
    if (!(value >= low && value <= high)) {
      throw new SettingError(name, `${value}${unit}`, `from ${low}${unit} to ${high}${unit}`);
    }
  };
  const { settings: s } = a;
  const kind = KIND_OF[a.subject];
  within('width', a.width, 64, 12000, ' px');
  within('height', a.height, 64, 12000, ' px');
  within('frames', a.frames, 1, kind === 'focus-stack' ? 100 : kind === 'bracket' ? 9 : 24);
  within('focalLengthMm', s.focalLengthMm, 10, 200, ' mm');
  within('fNumber', s.fNumber, 1.4, 32);
  within('iso', s.iso, 50, 12800);
  if (s.focusFromMm !== null) within('focusFromMm', s.focusFromMm, 1.1 * s.focalLengthMm, 1e6, ' mm');
  within('rows', s.rows, 1, 3);
  within('wind', s.wind, 0, 2);
  within('intervalS', s.intervalS, 0, 60, ' s');
  within('dust', s.dust, 0, 40, ' specks');
  if (s.step !== null && kind === 'focus-stack') within('step', s.step, 0.002, 2, ' dpt');
  if (s.step !== null && kind === 'bracket') within('step', s.step, 0.3, 4, ' EV');
  if (s.step !== null && kind === 'panorama') within('step', s.step, 0.1, 0.8);
}
