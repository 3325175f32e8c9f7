// Names of delivered files.
import { fillPattern } from './namePattern';

const FACTS = { job: 'Gears: 1/2', merge: 'merge', kind: 'focus-stack', date: '2026-11-29', by: 'Ada' };

it('words in braces are filled in, and what no file system takes is replaced', () => {
  expect(fillPattern('{job} {date}, {by}', FACTS)).toBe('Gears_ 1_2 2026-11-29, Ada');
  expect(fillPattern('..{merge}..', FACTS)).toBe('merge');
  expect(fillPattern('x'.repeat(400), FACTS)).toHaveLength(100);
});

it('a word that is none is named with those that are, and a name of nothing is refused', () => {
  expect(() => fillPattern('{client}', FACTS)).toThrow(
    'pattern: {client} cannot be filled in. Accepted: {job}, {merge}, {kind}, {date}, {by}.',
  );
  expect(() => fillPattern(' .. ', FACTS)).toThrow('gives no name');
});
