// What a command leaves with.
import { exitFor } from './output';

it('is 1 for any finding, 0 for none; with a limit, only what is at least so visible counts', () => {
  expect([exitFor([], undefined), exitFor([3], undefined)]).toEqual([0, 1]);
  expect([exitFor([49, 12], '50'), exitFor([49, 50], '50'), exitFor([0], '0')]).toEqual([0, 1, 1]);
});

it.each(['many', '', '-1', '101'])('"%s" is no limit', (failOver) => {
  expect(() => exitFor([], failOver)).toThrow(`--fail-over: "${failOver}" cannot be used`);
});
