// What a polygon encloses, against areas known from school.
import { polygonArea } from './index';

it('is that of a rectangle, of a triangle and of a ring round a notch, whichever way round they are drawn', () => {
  const rectangle: [number, number][] = [[2, 3], [12, 3], [12, 8], [2, 8]]; // prettier-ignore
  expect([polygonArea(rectangle), polygonArea([...rectangle].reverse())]).toEqual([50, 50]);
  expect(polygonArea([[0, 0], [6, 0], [0, 4]])).toBe(12); // prettier-ignore
  expect(polygonArea([[0, 0], [4, 0], [4, 4], [2, 2], [0, 4]])).toBe(12); // prettier-ignore
});

it('is nothing for a point or a line', () => {
  expect([polygonArea([]), polygonArea([[3, 4]]), polygonArea([[0, 0], [5, 5]])]).toEqual([0, 0, 0]); // prettier-ignore
});
