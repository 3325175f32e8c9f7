// The one way of refusing a parameter: path, what is accepted, what was given.
import { badParameter, ParameterError } from '.';

it.each([
  [7, '7'],
  [[3, 4], '[3,4]'],
  ['wide', '"wide"'],
  [undefined, 'undefined'],
  [NaN, 'null'],
  [{ width: 2 }, '{"width":2}'],
])('tells of %j in words a person can act on', (given, shown) => {
  const error = badParameter('op.options.size', '8 px or more', given);
  expect(error).toBeInstanceOf(ParameterError);
  expect(error.message).toBe(`op.options.size: expected 8 px or more, received ${shown}`);
  expect([error.path, error.expected, error.actual]).toEqual(['op.options.size', '8 px or more', shown]);
});
