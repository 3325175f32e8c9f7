// Marking an area by corners and strokes: a small state machine, apart from how it is drawn.
import type { AreaShapes } from '@blendrak/contract';

export type Place = readonly [number, number];
export type AreaToolName = 'corners' | 'brush';

export interface AreaState {
  readonly done: AreaShapes;
  /** Corners of the outline that is being drawn. */
  readonly corners: readonly Place[];
  /** Points of the stroke that is being painted; empty when the pointer is up. */
  readonly stroke: readonly Place[];
}

/** Points of a stroke nearer to each other than this add nothing; in shares of the width. */
const STEP = 0.004;
/** A click this near to the first corner closes the outline. */
const CLOSES = 0.012;
const MOST_POINTS = 5000;
const MOST_CORNERS = 200;

export function beginArea(shapes: AreaShapes): AreaState {
  return { done: shapes, corners: [], stroke: [] };
}

/** All that is marked: an outline counts as soon as it encloses something. */
export function markedShapes({ done, corners }: AreaState): AreaShapes {
  return corners.length >= 3 ? [...done, { kind: 'polygon', corners: corners.map(toTuple) }] : done;
}

/** The pointer goes down. `aspect` is height over width. */
export function press(state: AreaState, tool: AreaToolName, at: Place, aspect: number): AreaState {
  const place = inside(at);
  if (tool === 'brush') return { ...closeOutline(state), stroke: [place] };
  const [first] = state.corners;
  if (first && state.corners.length >= 3 && apart(first, place, aspect) < CLOSES) return closeOutline(state);
  return state.corners.length >= MOST_CORNERS ? state : { ...state, corners: [...state.corners, place] };
}

/** The pointer moves while it is down. */
export function drag(state: AreaState, at: Place, aspect: number): AreaState {
  const last = state.stroke.at(-1);
  const place = inside(at);
  if (!last || apart(last, place, aspect) < STEP || state.stroke.length >= MOST_POINTS) return state;
  return { ...state, stroke: [...state.stroke, place] };
}

/** The pointer goes up: a stroke is done. */
export function release(state: AreaState, radius: number): AreaState {
  if (state.stroke.length === 0) return state;
  return {
    ...state,
    done: [...state.done, { kind: 'brush', points: state.stroke.map(toTuple), radius }],
    stroke: [],
  };
}

/** Ends the outline; what encloses nothing is dropped. */
export function closeOutline(state: AreaState): AreaState {
  return { ...state, done: markedShapes(state), corners: [] };
}

/** Takes the last corner, outline or stroke back. */
export function takeBack(state: AreaState): AreaState {
  if (state.corners.length > 0) return { ...state, corners: state.corners.slice(0, -1) };
  return { ...state, done: state.done.slice(0, -1) };
}

function inside([x, y]: Place): Place {
  return [Math.min(1, Math.max(0, x)), Math.min(1, Math.max(0, y))];
}

function apart([ax, ay]: Place, [bx, by]: Place, aspect: number): number {
  return Math.hypot(ax - bx, (ay - by) * aspect);
}

function toTuple([x, y]: Place): [number, number] {
  return [x, y];
}
