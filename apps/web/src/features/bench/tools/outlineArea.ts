// Outline: a place is drawn around exactly, by hand or from corner to corner, and comes from one frame.
import type { NewOperation } from '@blendrak/contract';
import { polygonArea } from '@blendrak/core/image';
import { drawOutline, extendOutline, LEAST_AREA_PX, type OutlineDraft } from './outlineDraft';
import type { Brush, Tool } from './tool';

interface AreaDraft extends OutlineDraft {
  readonly donor: number | null;
  readonly brush: Brush;
  /** Points before the pointer was put down last; 0 for an outline that has just begun. */
  readonly settled: number;
  readonly isClosed: boolean;
}

/** Nearer to a corner than this it is met, picture px. */
const MET_PX = 8;
/** The softest rim that an outline fades over, px. */
const SOFTEST_PX = 40;

type Point = readonly [number, number];

const isNear = (a: Point | undefined, b: Point): boolean =>
  a !== undefined && Math.hypot(a[0] - b[0], a[1] - b[1]) < MET_PX;

export const outlineArea: Tool<'area', AreaDraft> = {
  id: 'area',
  name: 'Outline',
  words: { label: 'Take an outlined place from the frame', keys: ['Shift+o'], shown: 'Shift O' },
  hint: 'Draw around a place, or click its corners and then the first one again: it comes from the frame in hand',
  group: 'repair',
  place: 'menu',
  settings: ['hardness', 'strength'],
  isReady: ({ donor }) => donor !== null,
  donorOf: ({ donor }) => donor,
  begin({ x, y }, { donor, brush }, before) {
    if (!before) return { donor, brush, points: [[x, y]], settled: 0, isClosed: false };
    const { points } = before;
    const isClosed = points.length >= 3 && (isNear(points[0], [x, y]) || isNear(points.at(-1), [x, y]));
    return { ...before, points: isClosed ? points : [...points, [x, y]], settled: points.length, isClosed };
  },
  extend: (draft, samples) => [draft.isClosed ? draft : { ...draft, ...extendOutline(draft, samples) }, null],
  shown: () => null,
  finish({ points, settled, isClosed, donor, brush }) {
    const isClick = points.length === settled + 1;
    if (!isClosed && (isClick || settled > 0)) {
      // Drawn by hand after some corners: it ends where it meets the first.
      if (isClick || !isNear(points[0], points.at(-1)!)) return { kind: 'goOn' };
    }
    if (polygonArea(points) < LEAST_AREA_PX) return null;
    const featherPx = Math.round((1 - brush.hardness) * SOFTEST_PX);
    const shape = { kind: 'outline' as const, points: [...points], growPx: 0, featherPx, strength: brush.strength };
    const operation: NewOperation = { kind: 'paint', donor, shape };
    return { kind: 'change', operation };
  },
  draw: (context, camera, at, _brush, draft) => drawOutline(context, camera, at, draft),
};
