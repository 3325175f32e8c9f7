// Measurements in words a retoucher reads.
import type { Finding } from '@blendrak/contract';
import { ON_SCREEN, type Viewing } from '@blendrak/core/print';
import { sightWords } from '../../shared/viewing/judge';

const percent = (v: number): string => `${Math.round(100 * v)} %`;
const ofScale = (v: number): string => `${v.toFixed(1)} % of full scale`;
const px = (v: number): string => `${Math.round(v)} px`;

/** What a measurement is called and how it is said, in the order in which they matter; others stay in the report. */
const WORDS: readonly (readonly [measurement: string, label: string, say: (value: number) => string])[] = [
  ['detailLoss', 'Detail left in the merge', (v) => percent(2 ** (-v / 2))],
  ['spreadLight', 'Spread light', ofScale],
  ['step', 'Step across the line', ofScale],
  ['difference', 'Difference to the eye', (v) => `${v.toFixed(1)} ΔE00`],
  ['length', 'Length', px],
  ['cutLength', 'Length of the cut', px],
  ['shownPart', 'Part of it that is shown', percent],
  ['shownStrength', 'How strongly it is shown', percent],
  ['highlightsLost', 'Structure lost in the highlights', ofScale],
  ['shadowsLost', 'Structure lost in the shadows', ofScale],
  ['departure', 'Unlike every frame by', ofScale],
  ['framesApart', 'Frames differ among each other by', ofScale],
  ['missingLight', 'Light taken', (v) => `${v.toFixed(1)} %`],
  ['depth', 'Depth of the strip', px],
  ['unexplained', 'Unlike every frame', (v) => `${v.toFixed(1)} × their detail`],
  ['unresolvedBlur', 'Blur no frame resolves', (v) => `${v.toFixed(2)} px σ`],
  ['stepBlur', 'Blur of that focus step', (v) => `${v.toFixed(2)} px σ`],
];

/**
 * Name and value of each piece of evidence, in the order they matter.
 * @param viewing how the picture will be looked at
 */
export function evidenceOf(finding: Finding, viewing: Viewing = ON_SCREEN): [string, string][] {
  const { measurements, severity, donor, defect, gain, confidence, bbox } = finding;
  const measured = WORDS.flatMap(([name, label, say]): [string, string][] => {
    const found = measurements[name];
    return found ? [[label, say(found.value)]] : [];
  });
  return [
    ['Visibility', `${severity} of 100`],
    ...sightWords(finding, viewing),
    ...measured,
    ...(donor !== null && defect === 'soft-patch'
      ? [['Donor sharper by', `${gain.toFixed(1)} ×`] as [string, string]]
      : []),
    ['Confidence', percent(confidence)],
    ['Size', `${bbox.width} × ${bbox.height} px`],
  ];
}
