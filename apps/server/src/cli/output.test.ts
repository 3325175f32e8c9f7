// What a command leaves with.
import { exitFor, falseAlarmsOf } from './output';

it('is 1 for any finding, 0 for none; with a limit, only what is at least so visible counts', () => {
  expect([exitFor([], undefined), exitFor([3], undefined)]).toEqual([0, 1]);
  expect([exitFor([49, 12], '50'), exitFor([49, 50], '50'), exitFor([0], '0')]).toEqual([0, 1, 1]);
});

it.each(['many', '', '-1', '101'])('"%s" is no limit', (failOver) => {
  expect(() => exitFor([], failOver)).toThrow(`--fail-over: "${failOver}" cannot be used`);
});

describe('false alarms that are allowed for', () => {
  it('are a number from 0, or not limited', () => {
    expect([falseAlarmsOf('0.1'), falseAlarmsOf('0'), falseAlarmsOf(undefined)]).toEqual([0.1, 0, undefined]);
  });

  it.each(['few', ' ', '-0.1'])('are not "%s"', (given) => {
    expect(() => falseAlarmsOf(given)).toThrow(`--false-alarms: "${given}" cannot be used`);
  });
});
