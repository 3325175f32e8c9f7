// Task `measure`: an instrument read along a segment, in the merge as repaired and in all frames.
import { closeSync, openSync, readSync } from 'node:fs';
import type { Reading } from '@blendrak/contract';
import { canTouch, footprintOf, type AlignedFrame } from '@blendrak/core/frame';
import type { Region } from '@blendrak/core/image';
import {
  edgeProbe,
  lineProbe,
  patchProbe,
  patchSquares,
  sampleStrip,
  segmentLength,
  type PatchPair,
  type Places,
  type Segment,
  type Strip,
} from '@blendrak/core/instruments';
import { CELL_PX } from '@blendrak/core/kernels';
import { threadKernels } from '../kernelHost';
import type { TaskRequest } from '../protocol';
import { placedFrame, repairedFrame } from '../sources';

/** Half the width over which an edge is averaged, and in which a line is looked for, px. */
const EDGE_HALF_PX = 3;
const LINE_HALF_PX = 14;
/** Frames whose tracks are kept, and values of each. */
const MOST_FRAMES = 8;
const MOST_VALUES = 400;
const UNKNOWN = 255;

export function measureTask({ scene, instrument, segment, labels }: TaskRequest<'measure'>): Reading | null {
  const merge = repairedFrame(scene);
  const frames = scene.frames.map(placedFrame);
  switch (instrument) {
    case 'line':
      return readLine(merge, frames, segment, labels);
    case 'edge':
      return readEdge(merge, frames, segment);
    case 'patch':
      return readPatch(merge, frames, segment);
  }
}

function readLine(
  merge: AlignedFrame,
  frames: readonly AlignedFrame[],
  segment: Segment,
  labels: string | null,
): Reading | null {
  const strip = sampleStrip(threadKernels(), merge, segment, LINE_HALF_PX);
  const shown = labels ? labelsAlong(labels, merge.source, segment, strip.length) : unknownLabels(strip.length);
  const read = lineProbe(strip, stripsOf(frames, segment, LINE_HALF_PX), shown);
  if (!read) return null;
  const every = spacing(strip.length);
  const wanted = new Set([
    ...read.breaks.flatMap(({ frame, border }) => [...(border ?? []), ...(frame ? [frame.index] : [])]),
    ...shown.filter((k) => k !== UNKNOWN),
  ]);
  return {
    kind: 'line',
    merge: thinned(read.merge, every),
    frames: tracks(read.frames, wanted, every),
    spacingPx: every,
    breaks: read.breaks.map((b) => ({ ...b, border: b.border && [...b.border] })),
  };
}

function readEdge(merge: AlignedFrame, frames: readonly AlignedFrame[], segment: Segment): Reading | null {
  const read = edgeProbe(
    sampleStrip(threadKernels(), merge, segment, EDGE_HALF_PX),
    stripsOf(frames, segment, EDGE_HALF_PX),
  );
  if (!read) return null;
  const { sharpest, frameShapes, shape, bands } = read;
  const every = spacing(read.merge.length);
  // The steepest edges first.
  const order = frameShapes
    .flatMap((s, k) => (s ? [{ k, width: s.widthPx }] : []))
    .sort((a, b) => a.width - b.width)
    .map(({ k }) => k);
  return {
    kind: 'edge',
    merge: thinned(read.merge, every),
    frames: tracks(read.frames, new Set(order), every),
    spacingPx: every,
    shape,
    sharpest: sharpest === null ? null : { frame: sharpest, shape: frameShapes[sharpest]! },
    bands: bands.map((b) => ({ ...b })),
  };
}

function readPatch(merge: AlignedFrame, frames: readonly AlignedFrame[], segment: Segment): Reading {
  const { rows, halfPx } = patchSquares(segment);
  const places = (frame: AlignedFrame): Places => [
    sampleStrip(threadKernels(), frame, rows[0], halfPx),
    sampleStrip(threadKernels(), frame, rows[1], halfPx),
  ];
  const near = frames.map((f) => (rows.every((row) => reaches(f, row, halfPx)) ? places(f) : null));
  const read = patchProbe(places(merge), near);
  return {
    kind: 'patch',
    sidePx: read.sidePx,
    merge: pairRecord(read.merge),
    frames: read.frames.flatMap((pair, frame) =>
      pair ? [{ frame, pair: pairRecord(pair), ownStep: read.ownStep[frame]! }] : [],
    ),
  };
}

/** A pair as it is kept. */
function pairRecord({ from, to, difference }: PatchPair): Extract<Reading, { kind: 'patch' }>['merge'] {
  const record = ({ colour: [r, g, b], ...rest }: PatchPair['from']) => ({
    ...rest,
    colour: [r, g, b] satisfies [number, number, number],
  });
  return { from: record(from), to: record(to), difference };
}

/** Strips of the frames that reach a segment. */
function stripsOf(frames: readonly AlignedFrame[], segment: Segment, half: number): (Strip | null)[] {
  return frames.map((f) => (reaches(f, segment, half) ? sampleStrip(threadKernels(), f, segment, half) : null));
}

function reaches({ geometry, source }: AlignedFrame, { from, to }: Segment, half: number): boolean {
  const [x, y] = [Math.min(from[0], to[0]) - half, Math.min(from[1], to[1]) - half];
  const around: Region = {
    x: Math.floor(x),
    y: Math.floor(y),
    width: Math.ceil(Math.abs(from[0] - to[0]) + 2 * half) + 1,
    height: Math.ceil(Math.abs(from[1] - to[1]) + 2 * half) + 1,
  };
  return canTouch(footprintOf(geometry, source), around);
}

function spacing(length: number): number {
  return Math.ceil(length / MOST_VALUES);
}

/** Tracks of the frames that are wanted, in that order of wish, no more than are kept. */
function tracks(
  all: readonly (Float32Array | null)[],
  wanted: ReadonlySet<number>,
  every: number,
): { frame: number; values: (number | null)[] }[] {
  return [...wanted].slice(0, MOST_FRAMES).flatMap((frame) => {
    const track = all[frame];
    return track ? [{ frame, values: thinned(track, every) }] : [];
  });
}

function thinned(values: Float32Array, every: number): (number | null)[] {
  const some = values.filter((_, i) => i % every === 0);
  return Array.from(some, (v) => (Number.isNaN(v) ? null : Math.round(v * 1e4) / 1e4));
}

function unknownLabels(length: number): Uint8Array {
  return new Uint8Array(length).fill(UNKNOWN);
}

/** Frame shown at each px along a segment, from the label maps: the closest one, then the one shown. */
function labelsAlong(
  path: string,
  { width, height }: { readonly width: number; readonly height: number },
  { from, to }: Segment,
  length: number,
): Uint8Array {
  const [across, down] = [Math.floor(width / CELL_PX), Math.floor(height / CELL_PX)];
  const file = openSync(path, 'r');
  try {
    const byte = new Uint8Array(1);
    const far = segmentLength({ from, to });
    return unknownLabels(length).map((none, s) => {
      const at = (c: 0 | 1): number => Math.floor((from[c] + (s / far) * (to[c] - from[c])) / CELL_PX);
      const [x, y] = [at(0), at(1)];
      if (x < 0 || y < 0 || x >= across || y >= down) return none;
      return readSync(file, byte, 0, 1, across * down + y * across + x) === 1 ? byte[0]! : none;
    });
  } finally {
    closeSync(file);
  }
}
