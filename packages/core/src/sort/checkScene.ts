// Whether frames belong to what they were put with: the scene, and the settings that their files name.
import { figure, type CheckName, type FrameCheck } from './frameCheck';
import type { ProposedSet } from './groupFrames';
import { makePyramid, relateFrames } from './relateFrames';
import type { FrameSettings, SortFrame } from './sortFrame';

/** Likeness times the root of the overlap below which two frames are strangers; see groupFrames. */
const LEAST_ALIKE = 0.2;

type Pick = (frame: SortFrame) => string | number | null;

/** A frame that neither shows the view of the frame before or after it nor overlaps with one: it is of another scene. */
export function checkScene(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  const { frames: members } = set;
  if (members.length < 2 || set.nested.length > 0) return [];
  const pyramids = members.map((k) => makePyramid(frames[k]!.summary));
  const alike = members.slice(1).map((_, i) => {
    const { correlation, overlap } = relateFrames(pyramids[i]!, pyramids[i + 1]!);
    return correlation * Math.sqrt(overlap);
  });
  // A row of a panorama begins far from where the last one ended: its frames lie beside others.
  const least = set.kind === 'panorama' ? 0 : LEAST_ALIKE;
  return members.flatMap((frame, i): FrameCheck[] => {
    const best = Math.max(alike[i - 1] ?? 0, alike[i] ?? 0);
    if (best >= least) return [];
    return [
      {
        frame,
        check: 'other-scene',
        value: figure(best),
        limit: LEAST_ALIKE,
        unit: 'likeness',
        meaning: 'shows another scene than the frames before and after it',
        spoils: true,
      },
    ];
  });
}

/** What all frames must share, as their files say it; the odd ones out are those that differ from most. */
export function checkSettings(frames: readonly SortFrame[], set: ProposedSet): FrameCheck[] {
  const bracketed = set.kind === 'bracket' || set.nested.length > 0;
  const setting = (key: keyof FrameSettings) => (f: SortFrame) => f.settings[key];
  const rules: readonly (readonly [CheckName, Pick, string, string])[] = [
    [
      'size',
      (f) => `${f.width} × ${f.height}`,
      'px',
      'frames of another size or orientation cannot be laid on the others',
    ],
    ['camera', setting('camera'), '', 'another camera draws another picture'],
    ['focal-length', setting('focalLengthMm'), 'mm', 'the zoom was moved: the frame shows another scale'],
    ['aperture', setting('fNumber'), 'f/', 'depth of field and vignetting differ from the others'],
    ['iso', setting('iso'), 'ISO', 'grain and tone differ from the others'],
    ...(bracketed
      ? []
      : [
          [
            'exposure',
            setting('exposureS'),
            's',
            'the exposure was not fixed: brightness steps at the borders',
          ] as const,
        ]),
    ['white-balance', setting('whiteBalance'), '', 'the white balance was not fixed: colour steps at the borders'],
    ['profile', (f) => f.profile, '', 'another colour profile: the same codes mean other colours'],
    ['bit-depth', (f) => f.bits, 'bit', 'the coarser frame limits the blend'],
  ];
  return rules.flatMap(([check, pick, unit, meaning]) => {
    const values = set.frames.map((k) => pick(frames[k]!));
    const usual = mostCommon(values.filter((v) => v !== null));
    if (usual === null) return [];
    return set.frames.flatMap((frame, i): FrameCheck[] => {
      const value = values[i];
      if (value === null || value === undefined || value === usual) return [];
      return [{ frame, check, value, limit: usual, unit, meaning, spoils: check !== 'bit-depth' && check !== 'iso' }];
    });
  });
}

function mostCommon<T>(values: readonly T[]): T | null {
  const counts = new Map<T, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}
