// The place of a frame written into a report and read back: the same place.
import {
  frameToMerge,
  geometryOf,
  mergeToFrame,
  modelOf,
  type AlignmentRecord,
  type FrameGeometry,
  type LocalField,
} from '.';

const local: LocalField = {
  columns: 3,
  rows: 2,
  width: 600,
  height: 400,
  dx: [0.5, 0, -0.25, 0.1, 0.2, 0.3],
  dy: [0, 0.4, 0, -0.2, 0, 0.1],
};
const plane: FrameGeometry = { model: 'homography', toFrame: [1.01, 0.002, -3, -0.001, 0.99, 2, 1e-6, -2e-6, 1] };
const turned: FrameGeometry = {
  model: 'rotating-camera',
  canvas: { projection: 'cylindrical', focalPx: 700, axis: [500, 300] },
  rotation: [Math.cos(0.2), 0, -Math.sin(0.2), 0, 1, 0, Math.sin(0.2), 0, Math.cos(0.2)],
  focalPx: 710,
  centre: [300, 200],
  halfDiagonalPx: Math.hypot(300, 200),
  distortion: [0.02, -0.003],
  vignetting: [-0.2, 0],
};

const throughReport = (view: FrameGeometry): FrameGeometry =>
  geometryOf(JSON.parse(JSON.stringify(modelOf(view))) as AlignmentRecord);

it.each([
  ['a plane', plane],
  ['a plane with local shifts', { ...plane, local }],
  ['a turned camera', turned],
  ['a turned camera with local shifts', { ...turned, local }],
] as const)('%s keeps its places within a millionth of a px', (_, view) => {
  const back = throughReport(view);
  expect(back.local).toEqual(view.local);
  for (const [x, y] of [
    [10, 20],
    [300, 200],
    [590, 390],
  ] as const) {
    const [mx, my] = frameToMerge(view, x, y)!;
    const [a, b] = [mergeToFrame(view, mx, my)!, mergeToFrame(back, mx, my)!];
    expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(1e-6);
  }
});

it('a similarity is written without parameters and read as what it is', () => {
  const toMerge = { re: 1.02, im: 0.01, tx: 5, ty: -7 };
  const written = modelOf({ model: 'similarity', toMerge });
  expect(written).toEqual({ model: 'similarity', matrix: [1.02, -0.01, 5, 0.01, 1.02, -7, 0, 0, 1] });
  const [x, y] = frameToMerge(geometryOf(written), 100, 50)!;
  expect(x).toBeCloseTo(1.02 * 100 - 0.01 * 50 + 5, 9);
  expect(y).toBeCloseTo(0.01 * 100 + 1.02 * 50 - 7, 9);
});

it('names what a report leaves out', () => {
  const { parameters, ...rest } = modelOf(turned);
  const without = (key: string) => ({
    ...rest,
    parameters: Object.fromEntries(Object.entries(parameters!).filter(([k]) => k !== key)),
  });
  expect(() => geometryOf(without('focalPx'))).toThrow('alignment.parameters.focalPx: expected a number');
  expect(() => geometryOf(without('rotation'))).toThrow('alignment.parameters.rotation: expected 9 numbers');
  expect(() => geometryOf(without('projection'))).toThrow(
    'alignment.parameters.projection: expected flat, cylindrical, spherical',
  );
});
