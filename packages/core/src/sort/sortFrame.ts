// A frame as sorting takes it: what its file says and how it summaries.
import type { FrameSummary } from './frameSummary';

/** Settings that a file may name; null where it is silent. */
export interface FrameSettings {
  /** Seconds since any common moment. */
  readonly takenS: number | null;
  readonly camera: string | null;
  readonly lens: string | null;
  readonly focalLengthMm: number | null;
  /** Focal length that would see the same on 36 × 24 mm. */
  readonly focalLength35Mm: number | null;
  readonly fNumber: number | null;
  readonly exposureS: number | null;
  readonly iso: number | null;
  readonly focusMm: number | null;
  readonly whiteBalance: string | null;
}

export interface SortFrame {
  readonly name: string;
  /** Upright. */
  readonly width: number;
  readonly height: number;
  readonly bits: number;
  readonly profile: string | null;
  readonly settings: FrameSettings;
  readonly summary: FrameSummary;
}

/**
 * Light that the settings let in, EV against 1 s, f/1, ISO 100.
 * @returns null where the file does not say
 */
export function exposureEv({ exposureS, fNumber, iso }: FrameSettings): number | null {
  if (exposureS === null || fNumber === null) return null;
  return Math.log2(exposureS / (fNumber * fNumber)) + Math.log2((iso ?? 100) / 100);
}
