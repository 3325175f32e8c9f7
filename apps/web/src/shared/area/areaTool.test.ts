// Marking areas: what corners, strokes and taking back leave, and that the server takes all of it.
import { areaSchema } from '@blendrak/contract';
import {
  beginArea,
  closeOutline,
  drag,
  markedShapes,
  press,
  release,
  takeBack,
  type AreaState,
  type Place,
} from './areaTool';

const click = (state: AreaState, at: Place): AreaState => press(state, 'corners', at, 0.75);
const paint = (state: AreaState, points: readonly Place[], radius = 0.05): AreaState => {
  const [first, ...others] = points;
  const down = press(state, 'brush', first!, 0.75);
  return release(
    others.reduce((s, at) => drag(s, at, 0.75), down),
    radius,
  );
};
const triangle: readonly Place[] = [
  [0.1, 0.1],
  [0.9, 0.1],
  [0.5, 0.9],
];

it('counts an outline from its third corner on', () => {
  const two = triangle.slice(0, 2).reduce(click, beginArea([]));
  expect(markedShapes(two)).toEqual([]);
  expect(markedShapes(click(two, triangle[2]!))).toEqual([{ kind: 'polygon', corners: triangle }]);
});

it('closes an outline by a click on its first corner and begins another', () => {
  const closed = click(triangle.reduce(click, beginArea([])), [0.105, 0.1]);
  expect(closed.corners).toEqual([]);
  const another = triangle.reduce(click, closed);
  expect(markedShapes(another)).toHaveLength(2);
});

it('ends an outline that encloses nothing without a trace when a stroke begins', () => {
  const painted = paint(click(beginArea([]), [0.2, 0.2]), [
    [0.3, 0.3],
    [0.5, 0.3],
  ]);
  expect(markedShapes(painted)).toEqual([
    {
      kind: 'brush',
      points: [
        [0.3, 0.3],
        [0.5, 0.3],
      ],
      radius: 0.05,
    },
  ]);
});

it('keeps points that are a step apart, inside the picture', () => {
  const { done } = paint(beginArea([]), [
    [0.5, 0.5],
    [0.501, 0.5],
    [0.6, 0.5],
    [1.4, -0.2],
  ]);
  expect(done).toEqual([
    {
      kind: 'brush',
      points: [
        [0.5, 0.5],
        [0.6, 0.5],
        [1, 0],
      ],
      radius: 0.05,
    },
  ]);
});

it('a move without the pointer down paints nothing', () => {
  expect(drag(beginArea([]), [0.3, 0.3], 0.75)).toEqual(beginArea([]));
  expect(release(beginArea([]), 0.1)).toEqual(beginArea([]));
});

it('takes back corner by corner, then shape by shape', () => {
  let state = triangle.reduce(click, paint(beginArea([]), [[0.5, 0.5]]));
  state = takeBack(state);
  expect(state.corners).toHaveLength(2);
  state = takeBack(takeBack(takeBack(state)));
  expect(markedShapes(state)).toEqual([]);
  expect(takeBack(state)).toEqual(state);
});

it('stays within what the server takes, however long one draws', () => {
  let state = beginArea([]);
  for (let n = 0; n < 300; n++) state = click(state, [(n % 97) / 97, (n % 89) / 89]);
  const points = Array.from({ length: 6000 }, (_, n): Place => [(n % 50) / 50, ((n * 7) % 50) / 50]);
  const shapes = markedShapes(closeOutline(paint(state, points)));
  expect(areaSchema.safeParse(shapes).success).toBe(true);
});
