// The surest findings, of which so few are expected to be nothing.
import { surest } from './sureness';

const sure = (confidence: number) => ({ confidence });

it('are as many as the limit allows, in the order they came', () => {
  const findings = [sure(0.8), sure(0.95), sure(0.6), sure(0.9)];
  const at = (most: number) => surest(findings, most).map((f) => f.confidence);
  expect(at(0)).toEqual([]);
  expect(at(0.06)).toEqual([0.95]);
  expect(at(0.151)).toEqual([0.95, 0.9]);
  expect(at(0.4)).toEqual([0.8, 0.95, 0.9]);
  expect(at(10)).toEqual(findings.map((f) => f.confidence));
});

it('are expected to hold no more false alarms than that, and one more would be too many', () => {
  // Confidences as an equidistribution gives them: the limit is met as closely as they allow.
  const findings = Array.from({ length: 200 }, (_, k) => sure(0.5 + ((k * 0.618034) % 1) * 0.5));
  for (const most of [0.1, 1, 7]) {
    const kept = surest(findings, most);
    const expected = kept.reduce((sum, f) => sum + 1 - f.confidence, 0);
    const rest = findings.filter((f) => !kept.includes(f)).map((f) => 1 - f.confidence);
    expect(expected).toBeLessThanOrEqual(most);
    expect(expected + Math.min(...rest)).toBeGreaterThan(most);
  }
});
