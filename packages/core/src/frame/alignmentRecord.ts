// How a frame lies in a merge, as the report file writes it, and back.
import { badParameter } from '../checks';
import type { Projection } from './canvas';
import type { FrameGeometry } from './geometry';
import { invertMatrix, matrix3 } from './homography';
import type { LocalField } from './localField';
import { touchingSimilarity } from './touchingSimilarity';
import { matrixSimilarity, similarityMatrix, type Matrix3 } from './transform';

type Parameters = Readonly<Record<string, string | number | number[]>>;

/** A geometry as plain data: a matrix frame → merge, and what a model takes beyond it. */
export interface AlignmentRecord {
  readonly model: string;
  /** Nine numbers, row by row. */
  readonly matrix: number[];
  readonly parameters?: Parameters | undefined;
}

/** The model of a frame with its matrix frame → merge or, for a turned camera, what touches it in the middle. */
export function modelOf(geometry: FrameGeometry): {
  model: FrameGeometry['model'];
  matrix: number[];
  parameters?: Record<string, string | number | number[]>;
} {
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
function localParameters({ columns, rows, width, height, dx, dy }: LocalField): Record<string, number[]> {
  return { localGrid: [columns, rows], localSize: [width, height], localX: [...dx], localY: [...dy] };
}

/**
 * The geometry that a report's alignment describes.
 * @throws ParameterError when a model's parameters are missing
 */
export function geometryOf({ model, matrix, parameters = {} }: AlignmentRecord): FrameGeometry {
  const local = localOf(parameters);
  if (model === 'similarity') return { model, toMerge: matrixSimilarity(matrix3(matrix)), ...(local && { local }) };
  if (model !== 'rotating-camera')
    return { model: 'homography', toFrame: invertMatrix(matrix3(matrix)), ...(local && { local }) };
  const projection = PROJECTIONS.find((p) => p === parameters['projection']);
  if (!projection)
    throw badParameter('alignment.parameters.projection', PROJECTIONS.join(', '), parameters['projection']);
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

function missing(key: string, value: unknown, accepted: string): Error {
  return badParameter(`alignment.parameters.${key}`, accepted, value);
}
