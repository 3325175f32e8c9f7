// Findings as they show where the picture will be looked at.
import type { Finding, ViewingSettings } from '@blendrak/contract';
import { judgeFindings } from '@blendrak/core/inspect';
import { farthestSeen, noticeableSteps, viewingOf, type Viewing } from '@blendrak/core/print';
import type { PictureSize } from '../../viewer/camera';

/** How many findings are not shown. */
export interface HeldBack {
  /** Open findings that are not seen from there. */
  readonly unseen: number;
  /** Open findings that would be seen, but are too unsure for the limit on false alarms. */
  readonly unsure: number;
}

export interface Judged extends HeldBack {
  /** Most visible first; what is held back is left out, but for what was decided. */
  readonly shown: readonly Finding[];
}

/**
 * Judges findings anew for a way of looking.
 * @param alsoHeldBack whether those that are not seen, or too unsure, stay
 */
export function judge(
  findings: readonly Finding[],
  settings: ViewingSettings,
  picture: PictureSize,
  alsoHeldBack: boolean,
): Judged {
  const viewing = viewingOf(settings, picture);
  const { visibility, unseen, unsure } = judgeFindings(findings, viewing, settings.falseAlarms);
  const shown = findings
    .filter((f) => alsoHeldBack || !(unseen.has(f) || unsure.has(f)))
    .map((f) => ({ ...f, severity: Math.round(visibility.get(f)!) }))
    .sort((a, b) => b.severity - a.severity);
  return { shown, unseen: unseen.size, unsure: unsure.size };
}

/** How plainly a finding shows, in words; null for one of which that is not known. */
export function sightWords({ sight }: Finding, viewing: Viewing): [string, string][] {
  if (!sight) return [];
  const far = farthestSeen(sight, viewing.pitchMm);
  return [
    ['Noticeable steps', noticeableSteps(sight, viewing).toFixed(1)],
    ['Seen up to', far === 0 ? 'from nowhere' : distanceWords(far)],
  ];
}

export function distanceWords(mm: number): string {
  return mm < 995 ? `${Math.round(mm / 10)} cm` : `${(mm / 1000).toFixed(1)} m`;
}

/** A way of looking in words. */
export function viewingWords(settings: ViewingSettings, picture: PictureSize): string {
  if (settings.kind === 'screen') return 'on a screen at full size';
  const { pitchMm, distanceMm } = viewingOf(settings, picture);
  const cm = (px: number): string => `${Math.round((px * pitchMm) / 10)}`;
  return `as a print of ${cm(picture.width)} × ${cm(picture.height)} cm from ${distanceWords(distanceMm)}`;
}
