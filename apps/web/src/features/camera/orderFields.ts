// What can be set at the simulated camera, and what each setting means for a kind of set.
import type { MergeKind, ShootMenu, ShootOrder, ShootSettingsOrder } from '@blendrak/contract';

/** A number the camera asks for. */
export interface NumberField {
  readonly name: 'frames' | 'longSidePx' | 'seed' | `settings.${keyof ShootSettingsOrder}`;
  readonly label: string;
  readonly help: string;
  readonly step: number;
}

const FRAMES: Readonly<Record<MergeKind, string>> = {
  'focus-stack': 'focus distances, from the nearest point to the farthest',
  panorama: 'columns, turned from left to right',
  bracket: 'exposures, from dark to bright',
};

const STEP: Readonly<Record<MergeKind, readonly [label: string, help: string, step: number]>> = {
  'focus-stack': ['Step, dioptres', 'left empty: spread evenly over the subject', 0.005],
  panorama: ['Overlap, share', 'of neighbouring frames: 0.25 to 0.4 is usual', 0.05],
  bracket: ['Step, EV', 'left empty: six EV from the darkest to the brightest', 0.5],
};

/** Fields of the picture: how many, how large, which place. A vertical pair always has two frames. */
export function pictureFields({ kind, subject }: Pick<ShootMenu[number], 'kind' | 'subject'>): NumberField[] {
  const [label, help, step] = STEP[kind];
  const pair = subject === 'tower' || subject === 'tower-nested';
  return [
    ...(pair ? [] : [{ name: 'frames', label: 'Frames', help: FRAMES[kind], step: 1 } as const]),
    { name: 'settings.step', label, help, step },
    ...(kind === 'focus-stack'
      ? [
          {
            name: 'settings.focusFromMm',
            label: 'First focus, mm',
            help: 'left empty: the nearest point',
            step: 1,
          } as const,
        ]
      : []),
    ...(subject === 'cove'
      ? [{ name: 'settings.rows', label: 'Rows', help: 'from the bottom up', step: 1 } as const]
      : []),
    { name: 'longSidePx', label: 'Longer side, px', help: '4000 px make 12 MP', step: 100 },
    { name: 'seed', label: 'Seed', help: 'layout, light and motion follow from it', step: 1 },
  ];
}

/** Fields of the camera itself. */
export function cameraFields(kind: MergeKind): NumberField[] {
  return [
    { name: 'settings.focalLengthMm', label: 'Focal length, mm', help: '10 to 200', step: 1 },
    { name: 'settings.fNumber', label: 'f-number', help: 'small: thin slices; large: diffraction', step: 0.1 },
    { name: 'settings.iso', label: 'ISO', help: 'raises the noise', step: 50 },
    { name: 'settings.intervalS', label: 'Interval, s', help: 'from frame to frame', step: 1 },
    { name: 'settings.wind', label: 'Wind', help: '0 calm, 1 fresh breeze, 2 strong', step: 0.1 },
    { name: 'settings.lightDriftEvPerMin', label: 'Light drift, EV/min', help: 'clouds, sunset', step: 0.05 },
    { name: 'settings.dust', label: 'Dust, specks', help: 'on the sensor', step: 1 },
    ...(kind === 'panorama'
      ? [
          {
            name: 'settings.pupilOffsetMm',
            label: 'Pupil offset, mm',
            help: '0 turns about the pupil',
            step: 5,
          } as const,
        ]
      : []),
  ];
}

/** An order as a careful photographer would place it. */
export function usualOrder(entry: ShootMenu[number], seed: number): ShootOrder {
  return {
    name: entry.title,
    subject: entry.subject,
    seed,
    longSidePx: 1600,
    frames: entry.frames,
    settings: entry.settings,
    format: 'jpeg',
    bits: 8,
    separator: false,
    mergeElsewhere: true,
  };
}
