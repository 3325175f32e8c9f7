// The report file of an inspected merge.
import type { MergeKind, Report, ReportFinding, ReportFrame } from '@blendrak/contract';
import { centreShift, coveredShare, rotationDegOf, scaleOf, touchingSimilarity } from '@blendrak/core/frame';
import type { InspectedFinding, Inspection } from './inspectMerge';
import type { ProcessedSet } from './processSet';
import { modelOf } from './reportModel';
import type { PlacedFrame } from './types';

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
      residualPx: frame.residualPx,
    },
  };
}

/** A finding as the report writes it; sources below one per cent are left out. */
export function reportFinding(finding: InspectedFinding, index: number, names: readonly string[]): ReportFinding {
  const { detection, traced } = finding;
  const { bbox } = detection;
  const shown = traced.frames.flatMap((f, k) =>
    f.shownShare >= 0.01 ? [{ frame: names[k]!, role: 'shown' as const, share: f.shownShare }] : [],
  );
  const donor = traced.donor === null ? null : names[traced.donor]!;
  return {
    id: `f-${String(index + 1).padStart(4, '0')}`,
    defect: detection.defect,
    region: {
      bbox: [bbox.x, bbox.y, bbox.width, bbox.height],
      polygon: detection.polygon.map(([x, y]) => [x, y]),
    },
    severity: traced.severity,
    confidence: detection.confidence,
    cause: traced.cause,
    measurements: finiteMeasurements(finding),
    sources: donor ? [...shown, { frame: donor, role: 'donor', share: 0 }] : shown,
    donor,
    repairable: traced.repairable,
  };
}

/** Measurements of detection and trace together; what could not be measured is left out. */
export function finiteMeasurements({
  detection,
  traced,
}: InspectedFinding): Record<string, { value: number; unit: string }> {
  const all = { ...detection.measurements, gain: { value: traced.gain, unit: '×' } };
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
    findings: (inspection?.findings ?? []).map((f, i) => reportFinding(f, i, names)),
  };
}

/** The report of a processed set. */
export function reportOf({ aligned: { kind }, merge, frames, shares, inspection }: ProcessedSet, file: string): Report {
  const { width, height } = merge;
  return makeReport({ kind, width, height, frames, shares, inspection }, file);
}
