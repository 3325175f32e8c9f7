// What is left between frames: not known is neither nought nor the worst.
import { mergeOf } from '../testing/merges';
import { residualWords, worstResidual } from './residuals';

const frames = (...residuals: (number | null)[]) =>
  mergeOf([])
    .frames.slice(0, residuals.length)
    .map((f, k) => ({ ...f, residualPx: residuals[k]! }));

it('is said with two digits, or as not known', () => {
  expect([residualWords(0), residualWords(0.318), residualWords(null)]).toEqual(['0.00', '0.32', 'not known']);
});

it('is worst where it is largest among those that are known', () => {
  expect(worstResidual(frames(0.1, null, 0.4, 0.2))).toMatchObject({ residualPx: 0.4, frame: { fileName: 'c.jpg' } });
  expect(worstResidual(frames(null, 0))).toMatchObject({ residualPx: 0, frame: { fileName: 'b.jpg' } });
  expect(worstResidual(frames(null, null))).toBeNull();
  expect(worstResidual([])).toBeNull();
});
