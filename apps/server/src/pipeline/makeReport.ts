// The report file of an inspected merge.
import { noticeableSteps, ON_SCREEN } from '@blendrak/core/print';
import type { MergeKind, Report, ReportFinding, ReportFrame } from '@blendrak/contract';
import { centreShift, coveredShare, modelOf, rotationDegOf, scaleOf, touchingSimilarity } from '@blendrak/core/frame';
import type { Region } from '@blendrak/core/image';
import { tiedDonors, type FrameMeasure } from '@blendrak/core/trace';
import type { Inspection } from './inspectMerge';
import type { InspectedFinding } from './lookThrough';
import type { ProcessedSet } from './processSet';
import { knownResidual, type PlacedFrame } from './types';

/** How a frame lies in the merge, as the report writes it. */
export function reportFrame(frame: PlacedFrame, share: number, width: number, height: number): ReportFrame {
  const touching = touchingSimilarity(frame.geometry, frame.width, frame.height);
  return {
    file: frame.name,
    coverage: coveredShare(frame.geometry, frame, { width, height }),
    share,
    alignment: {
      ...modelOf(frame.geometry),
      scale: scaleOf(touching),
      shiftPx: centreShift(touching, frame.width, frame.height),
      rotationDeg: rotationDegOf(touching),
      residualPx: knownResidual(frame),
    },
  };
}

/** A finding as it is known, found just now or kept. */
export interface KnownFinding extends Pick<
  ReportFinding,
  'defect' | 'severity' | 'confidence' | 'cause' | 'measurements' | 'repairable'
> {
  readonly bbox: Region;
  readonly polygon: readonly (readonly [number, number])[];
  readonly frames: readonly FrameMeasure[];
  /** Index of the frame to repair from. */
  readonly donor: number | null;
}

/** Frames that a finding shows by less than this are left out. */
const LEAST_SHARE = 0.01;

/** A finding as the report writes it. */
export function reportFinding(finding: KnownFinding, index: number, names: readonly string[]): ReportFinding {
  const { bbox, polygon, frames, defect, severity, confidence, cause, measurements, repairable } = finding;
  const shown = frames.flatMap((f, k) =>
    f.shownShare >= LEAST_SHARE ? [{ frame: names[k]!, role: 'shown' as const, share: f.shownShare }] : [],
  );
  const donor = finding.donor === null ? null : names[finding.donor]!;
  return {
    id: `f-${String(index + 1).padStart(4, '0')}`,
    defect,
    region: {
      bbox: [bbox.x, bbox.y, bbox.width, bbox.height],
      polygon: polygon.map(([x, y]) => [x, y]),
    },
    severity,
    confidence,
    cause,
    measurements,
    sources: donor ? [...shown, { frame: donor, role: 'donor', share: 0 }] : shown,
    donor,
    donors: tiedDonors(finding).map((k) => names[k]!),
    repairable,
  };
}

function knownFinding(found: InspectedFinding): KnownFinding {
  const { detection, traced, confidence } = found;
  const { defect, bbox, polygon } = detection;
  const { frames, donor, severity, cause, repairable } = traced;
  const measurements = finiteMeasurements(found);
  return { defect, bbox, polygon, confidence, frames, donor, severity, cause, repairable, measurements };
}

/** Measurements of detection and trace together; what could not be measured is left out. */
export function finiteMeasurements({
  detection,
  traced,
}: InspectedFinding): Record<string, { value: number; unit: string }> {
  const all = {
    ...detection.measurements,
    evidence: { value: detection.confidence, unit: '1' },
    gain: { value: traced.gain, unit: '×' },
    noticeableSteps: { value: noticeableSteps(traced.sight, ON_SCREEN), unit: 'JND' },
  };
  return Object.fromEntries(Object.entries(all).filter(([, m]) => Number.isFinite(m.value)));
}

/** A merge that is reported, inspected or not. */
export interface ReportedMerge {
  readonly kind: MergeKind;
  readonly width: number;
  readonly height: number;
  readonly frames: readonly PlacedFrame[];
  readonly shares: readonly number[] | null;
  readonly inspection?: Inspection | null;
}

/**
 * The whole report; without findings where nobody looked.
 * @param file name of the merge
 */
export function makeReport(merge: ReportedMerge, file: string): Report {
  const { kind, width, height, frames, shares, inspection = null } = merge;
  const names = frames.map((f) => f.name);
  return {
    format: 'blendrak-report',
    version: 1,
    kind,
    merge: { file, width, height },
    frames: frames.map((f, k) => reportFrame(f, Math.min(1, shares?.[k] ?? 0), width, height)),
    findings: (inspection?.findings ?? []).map((f, i) => reportFinding(knownFinding(f), i, names)),
  };
}

/** The report of a processed set. */
export function reportOf({ aligned: { kind }, merge, frames, shares, inspection }: ProcessedSet, file: string): Report {
  const { width, height } = merge;
  return makeReport({ kind, width, height, frames, shares, inspection }, file);
}
