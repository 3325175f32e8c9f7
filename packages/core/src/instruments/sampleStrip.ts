// A straight strip cut out of a picture where it lies in a merge: along a drawn segment, and some px to both sides of it.
import { badParameter } from '../checks';
import { mergeToFrame, warpFrame, type AlignedFrame, type FrameSize } from '../frame';
import { sampleBilinear, type Region } from '../image';
import { downloadPlanes, type Kernels } from '../kernels';

/** A drawn segment, merge px. */
export interface Segment {
  readonly from: readonly [x: number, y: number];
  readonly to: readonly [x: number, y: number];
}

/** Samples 1 px apart: along the segment, and across it from its left (−) to its right (+). */
export interface Strip {
  readonly length: number;
  /** Odd; the segment is the middle row. */
  readonly across: number;
  /** Encoded R, G, B, row by row. */
  readonly colour: readonly [Float32Array, Float32Array, Float32Array];
  /** Encoded luma. */
  readonly luma: Float32Array;
  /** 1 for each place along the segment at which the picture covers the whole width. */
  readonly valid: Uint8Array;
}

/** Longest segment that is read, and shortest that says anything, px. */
export const SEGMENT_PX = { least: 8, most: 4000 } as const;

const LUMA = [0.2126, 0.7152, 0.0722] as const;
/** Long segments are read in parts of so many px: a slanted one lies in a large rectangle. */
const PART_PX = 256;

/** Length of a segment, px. */
export function segmentLength({ from, to }: Segment): number {
  return Math.hypot(to[0] - from[0], to[1] - from[1]);
}

/**
 * Reads a strip.
 * @param halfPx px to either side of the segment
 * @throws ParameterError for a segment that is too short or too long
 * Cost: a warp of the rectangles around its parts.
 */
export function sampleStrip(kernels: Kernels, frame: AlignedFrame, segment: Segment, halfPx: number): Strip {
  const far = segmentLength(segment);
  if (!(far >= SEGMENT_PX.least && far <= SEGMENT_PX.most))
    throw badParameter('sampleStrip.segment', `${SEGMENT_PX.least} to ${SEGMENT_PX.most} px long`, far);
  const length = Math.round(far) + 1;
  const across = 2 * Math.round(halfPx) + 1;
  const at = placesOf(segment, length, across);
  const size = length * across;
  const colour = [new Float32Array(size), new Float32Array(size), new Float32Array(size)] as const;
  for (let start = 0; start < length; start += PART_PX) {
    const end = Math.min(length, start + PART_PX);
    readPart(kernels, frame, colour, at, start, end, length, across);
  }
  const luma = new Float32Array(size);
  for (let i = 0; i < size; i++) luma[i] = LUMA[0] * colour[0][i]! + LUMA[1] * colour[1][i]! + LUMA[2] * colour[2][i]!;
  const valid = Uint8Array.from({ length }, (_, s) =>
    [0, across - 1].every((r) => isCovered(frame, frame.source, at(s, r))) ? 1 : 0,
  );
  return { length, across, colour, luma, valid };
}

type PlaceAt = (along: number, row: number) => readonly [x: number, y: number];

function placesOf({ from, to }: Segment, length: number, across: number): PlaceAt {
  const [dx, dy] = [(to[0] - from[0]) / (length - 1), (to[1] - from[1]) / (length - 1)];
  const norm = Math.hypot(dx, dy);
  const [nx, ny] = [-dy / norm, dx / norm];
  return (s, row) => {
    const r = row - (across - 1) / 2;
    return [from[0] + s * dx + r * nx, from[1] + s * dy + r * ny];
  };
}

function readPart(
  kernels: Kernels,
  frame: AlignedFrame,
  colour: Strip['colour'],
  at: PlaceAt,
  start: number,
  end: number,
  length: number,
  across: number,
): void {
  const region = around([at(start, 0), at(start, across - 1), at(end - 1, 0), at(end - 1, across - 1)]);
  const { width, height } = region;
  kernels.scope(() => {
    const planes = downloadPlanes(kernels, warpFrame(kernels, frame, region));
    colour.forEach((out, c) => {
      const plane = { width, height, data: planes[c]! };
      for (let row = 0; row < across; row++) {
        for (let s = start; s < end; s++) {
          const [x, y] = at(s, row);
          out[row * length + s] = sampleBilinear(plane, x - region.x, y - region.y);
        }
      }
    });
  });
}

function around(corners: readonly (readonly [number, number])[]): Region {
  const xs = corners.map((c) => c[0]);
  const ys = corners.map((c) => c[1]);
  const [x, y] = [Math.floor(Math.min(...xs)) - 1, Math.floor(Math.min(...ys)) - 1];
  return { x, y, width: Math.ceil(Math.max(...xs)) + 2 - x, height: Math.ceil(Math.max(...ys)) + 2 - y };
}

function isCovered(
  { geometry }: AlignedFrame,
  { width, height }: FrameSize,
  [x, y]: readonly [number, number],
): boolean {
  const place = mergeToFrame(geometry, x, y);
  return place !== null && place[0] >= 0 && place[1] >= 0 && place[0] <= width && place[1] <= height;
}
