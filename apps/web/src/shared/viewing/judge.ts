// Findings as they show where the picture will be looked at.
import type { Finding, ViewingSettings } from '@blendrak/contract';
import { farthestSeen, noticeableSteps, SEEN, visibilityIn, viewingOf, type Viewing } from '@blendrak/core/print';
import type { PictureSize } from '../../viewer/camera';

export interface Judged {
  /** Most visible first; what is not seen is left out, but for what was decided. */
  readonly shown: readonly Finding[];
  /** Open findings that are not seen from there. */
  readonly unseen: number;
}

/**
 * Judges findings anew for a way of looking.
 * @param alsoUnseen whether those that are not seen stay
 */
export function judge(findings: readonly Finding[], viewing: Viewing, alsoUnseen: boolean): Judged {
  const judged = findings.map((f) => (f.sight ? { ...f, severity: severityIn(f.sight, viewing) } : f));
  const isUnseen = (f: Finding): boolean => f.decision === 'open' && !f.byHand && f.severity < SEEN;
  const unseen = judged.filter(isUnseen).length;
  const shown = alsoUnseen || unseen === 0 ? judged : judged.filter((f) => !isUnseen(f));
  return { shown: shown.toSorted((a, b) => b.severity - a.severity), unseen };
}

function severityIn(sight: NonNullable<Finding['sight']>, viewing: Viewing): number {
  return Math.round(visibilityIn(sight, viewing));
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
