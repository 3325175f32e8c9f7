// Measurements in words a retoucher reads.
import type { Finding } from '@blendrak/contract';

const percent = (v: number): string => `${Math.round(100 * v)} %`;

/** Name and value of each piece of evidence, in the order they matter. */
export function evidenceOf(finding: Finding): [string, string][] {
  const m = finding.measurements;
  const out: [string, string][] = [['Visibility', `${finding.severity} of 100`]];
  if (m['detailLoss']) out.push(['Detail left in the merge', percent(2 ** (-m['detailLoss'].value / 2))]);
  if (m['spreadLight']) out.push(['Spread light', `${m['spreadLight'].value.toFixed(1)} % of full scale`]);
  if (m['unexplained']) out.push(['Unlike every frame', `${m['unexplained'].value.toFixed(1)} × their detail`]);
  if (m['unresolvedBlur']) out.push(['Blur no frame resolves', `${m['unresolvedBlur'].value.toFixed(2)} px σ`]);
  if (m['stepBlur']) out.push(['Blur of that focus step', `${m['stepBlur'].value.toFixed(2)} px σ`]);
  if (finding.donor !== null && finding.defect === 'soft-patch')
    out.push(['Donor sharper by', `${finding.gain.toFixed(1)} ×`]);
  out.push(['Confidence', percent(finding.confidence)]);
  out.push(['Size', `${finding.bbox.width} × ${finding.bbox.height} px`]);
  return out;
}
