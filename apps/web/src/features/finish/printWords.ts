// Can this be printed so large? The answer with its reasons.
import type { Cut, Finding, ViewingSettings } from '@blendrak/contract';
import { checkPrint, farthestSeen, SEEN, viewingOf, visibilityIn } from '@blendrak/core/print';
import { distanceWords } from '../../shared/viewing/judge';

export interface PictureSize {
  readonly width: number;
  readonly height: number;
}

export interface PrintAnswer {
  readonly isFit: boolean;
  readonly title: string;
  readonly reasons: readonly string[];
}

/** Below this a print looks coarse to everyone who steps near, ppi. */
const LEAST_PPI = 100;

/** The size that is printed: the crop, or all of the merge. */
export function printedSize(merge: PictureSize, { crop }: Cut): PictureSize {
  return crop ?? merge;
}

/**
 * Answers whether a picture can be printed.
 * @param size of what is printed, px
 * @param findings of the merge; those that are open or were accepted can show
 */
export function printAnswer(
  size: PictureSize,
  settings: Extract<ViewingSettings, { kind: 'print' }>,
  findings: readonly Finding[],
): PrintAnswer {
  const ppi = Math.max(size.width, size.height) / (settings.longSideMm / 25.4);
  const way = viewingOf(settings, size);
  const check = checkPrint({
    pixelsWide: size.width,
    pixelsHigh: size.height,
    ppi,
    viewingDistanceMm: way.distanceMm,
    sensorWidthMm: null,
  });
  const cm = (mm: number): string => `${Math.round(mm / 10)}`;
  const showing = findings.filter(
    ({ decision, sight }) =>
      (decision === 'open' || decision === 'accepted' || decision === 'reshoot') &&
      sight &&
      visibilityIn(sight, way) >= SEEN,
  );
  const reasons = [
    `${size.width} × ${size.height} px are ${Math.round(ppi)} px to the inch. From ${distanceWords(way.distanceMm)} the eye tells ${Math.round(check.usefulPpi)} apart.`,
    check.morePixelsShow
      ? `It sees ${Math.round(100 / check.usefulFactor)} % of the detail that it could; enlarging ${check.usefulFactor.toFixed(1)} times would add px and no detail.`
      : 'More px would not show from there, and none need be made up.',
    showing.length === 0
      ? 'No finding that is open or was accepted shows from there.'
      : `${showing.length === 1 ? '1 finding shows' : `${showing.length} findings show`} from there: ${[...new Set(showing.map((f) => f.defect.replaceAll('-', ' ')))].join(', ')}.`,
  ];
  const isFit = showing.length === 0 && ppi >= LEAST_PPI;
  const print = `${cm(check.widthMm)} × ${cm(check.heightMm)} cm`;
  const why = ppi < LEAST_PPI ? 'it is too coarse' : 'something shows';
  return { isFit, title: isFit ? `Can be printed ${print}` : `Not yet for ${print}: ${why}`, reasons };
}

/** A finding with how far away it can be seen. */
export interface ReachingFinding {
  readonly finding: Finding;
  /** Null where that is not known. */
  readonly farMm: number | null;
}

/** Findings that can show, with the farthest distance of each. */
export function reaching(findings: readonly Finding[], pitchMm: number): ReachingFinding[] {
  return findings
    .filter(({ decision }) => decision === 'open' || decision === 'accepted' || decision === 'reshoot')
    .map((finding) => ({ finding, farMm: finding.sight ? farthestSeen(finding.sight, pitchMm) : null }));
}
