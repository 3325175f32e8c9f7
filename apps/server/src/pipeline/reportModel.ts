// How a frame lies in a merge, as the report file writes it, and back.
import type { ReportFrame } from '@blendrak/contract';
import {
  type FrameGeometry,
  invertMatrix,
  type LocalField,
  type Matrix3,
  matrix3,
  type Projection,
  similarityMatrix,
  matrixSimilarity,
  touchingSimilarity,
} from '@blendrak/core/frame';
import { InputError } from '../codecs';

type Alignment = ReportFrame['alignment'];
type Parameters = NonNullable<Alignment['parameters']>;

/** The model of a frame with its matrix frame → merge or, for a turned camera, what touches it in the middle. */
export function modelOf(geometry: FrameGeometry): Pick<Alignment, 'model' | 'matrix' | 'parameters'> {
  const { local } = geometry;
  if (geometry.model !== 'rotating-camera') {
    const matrix = geometry.model === 'similarity' ? similarityMatrix(geometry.toMerge) : backOf(geometry.toFrame);
    return { model: geometry.model, matrix: [...matrix], ...(local && { parameters: localParameters(local) }) };
  }
  const { canvas, rotation, focalPx, centre, halfDiagonalPx, distortion, vignetting } = geometry;
  return {
    model: 'rotating-camera',
    matrix: [...similarityMatrix(touchingSimilarity(geometry, 2 * centre[0], 2 * centre[1]))],
    parameters: {
      projection: canvas.projection,
      canvasFocalPx: canvas.focalPx,
      canvasAxis: [...canvas.axis],
      rotation: [...rotation],
      focalPx,
      centre: [...centre],
      halfDiagonalPx,
      distortion: [...distortion],
      vignetting: [...vignetting],
      ...(local && localParameters(local)),
    },
  };
}

/** Frame → merge, where a geometry has it the other way. */
function backOf(toFrame: Matrix3): number[] {
  const m = invertMatrix(toFrame);
  return m.map((v) => v / m[8]);
}

/** Local shifts at the middles of equal cells over the frame, row by row, px. */
function localParameters({ columns, rows, width, height, dx, dy }: LocalField): Parameters {
  return { localGrid: [columns, rows], localSize: [width, height], localX: [...dx], localY: [...dy] };
}

/**
 * The geometry that a report's alignment describes.
 * @throws InputError when a model's parameters are missing
 */
export function geometryOf({
  model,
  matrix,
  parameters = {},
}: Pick<Alignment, 'model' | 'matrix' | 'parameters'>): FrameGeometry {
  const local = localOf(parameters);
  if (model === 'similarity') return { model, toMerge: matrixSimilarity(matrix3(matrix)), ...(local && { local }) };
  if (model !== 'rotating-camera')
    return { model: 'homography', toFrame: invertMatrix(matrix3(matrix)), ...(local && { local }) };
  const projection = PROJECTIONS.find((p) => p === parameters['projection']);
  if (!projection)
    throw new InputError('projection', `a report names "${String(parameters['projection'])}"`, PROJECTIONS.join(', '));
  return {
    model,
    canvas: { projection, focalPx: numberOf(parameters, 'canvasFocalPx'), axis: pairOf(parameters, 'canvasAxis') },
    rotation: rotationOf(parameters),
    focalPx: numberOf(parameters, 'focalPx'),
    centre: pairOf(parameters, 'centre'),
    halfDiagonalPx: numberOf(parameters, 'halfDiagonalPx'),
    distortion: pairOf(parameters, 'distortion'),
    vignetting: pairOf(parameters, 'vignetting'),
    ...(local && { local }),
  };
}

const PROJECTIONS: readonly Projection[] = ['flat', 'cylindrical', 'spherical'];

function localOf(p: Parameters): LocalField | null {
  if (p['localGrid'] === undefined) return null;
  const [columns, rows] = pairOf(p, 'localGrid');
  const [width, height] = pairOf(p, 'localSize');
  return {
    columns,
    rows,
    width,
    height,
    dx: listOf(p, 'localX', columns * rows),
    dy: listOf(p, 'localY', columns * rows),
  };
}

function numberOf(p: Parameters, key: string): number {
  const value = p[key];
  if (typeof value !== 'number') throw missing(key, value, 'a number');
  return value;
}

function listOf(p: Parameters, key: string, length: number): number[] {
  const value = p[key];
  if (!Array.isArray(value) || value.length !== length) throw missing(key, value, `${length} numbers`);
  return value;
}

function pairOf(p: Parameters, key: string): [number, number] {
  const [a, b] = listOf(p, key, 2);
  return [a!, b!];
}

function rotationOf(p: Parameters): Matrix3 {
  return matrix3(listOf(p, 'rotation', 9));
}

function missing(key: string, value: unknown, accepted: string): InputError {
  return new InputError(
    `alignment.parameters.${key}`,
    `the report gives ${JSON.stringify(value) ?? 'nothing'}`,
    accepted,
  );
}
