// Repairs of a merge carried over to a later one of the same job: the frames may lie elsewhere now, and some may be gone.
import { frameToMerge, mergeToFrame, type FrameGeometry } from '../frame';
import { partsOf, type Operation, type OperationMask, type OperationPart } from './operations';
import { drawnShape, shapeRegion, type DrawnShape } from './shapes';

/** A frame of a merge, by the picture that it is and its name. */
export interface CarryFrame {
  readonly id: string;
  readonly name: string;
  readonly geometry: FrameGeometry;
}

/** A merge as repairs lie on it. */
export interface CarryMerge {
  readonly width: number;
  readonly height: number;
  readonly frames: readonly CarryFrame[];
}

/** An operation in the later merge, or why it is not one there. */
export type Carried = { readonly operation: Operation } | { readonly why: string };

/** Less than this is no move, px: nobody sees a mask by so much elsewhere. */
const STAYS_PX = 0.3;

type Point = readonly [x: number, y: number];
type Move = (point: Point) => Point | null;

/**
 * Carries an operation over: its donors are found again (the same picture, else one of its name: a frame that was read anew), its masks go
 * where what they were drawn on lies now.
 * @param isSamePicture whether both merges are the same picture, so that what was measured on it still holds
 */
export function carryOperation(
  operation: Operation,
  from: CarryMerge,
  to: CarryMerge,
  isSamePicture: boolean,
): Carried {
  const parts = [operation, ...(operation.also ?? [])];
  if (parts.some(({ donor }) => donor !== null && donor >= from.frames.length))
    return { why: 'it paints with another merge of the frames as they lay before' };
  const donors = parts.map(({ donor }) => (donor === null ? null : from.frames[donor]!));
  const gone = donors.find((frame) => frame && indexIn(to, frame) === -1);
  if (gone) return { why: `${gone.name} is no longer among the frames` };
  const stays = isSamePicture || staysAt(operation, from, to);
  if (!isSamePicture && parts.some((p) => p.tone || p.pull))
    return { why: 'it was measured on the picture as it was: its tone, or how far it pulls' };
  const carried: OperationPart[] = [];
  for (const [k, part] of parts.entries()) {
    const frame = donors[k]!;
    const donor = frame && indexIn(to, frame);
    if (stays) {
      carried.push({ ...part, donor });
      continue;
    }
    if (part.shift) return { why: 'the picture lies elsewhere now, and it was set in by a px or two' };
    const shape = moved(drawnShape(part.shape), moveBy(from, to, frame), to);
    if (!shape) return { why: 'the picture lies elsewhere now' };
    carried.push({ ...part, donor, shape });
  }
  const [first, ...also] = carried;
  const mask = carriedMask(operation.mask, stays, to);
  if (mask === undefined) return { why: 'its mask was laid to edges that lie elsewhere now' };
  return { operation: { ...operation, ...first!, ...(also.length > 0 && { also }), mask } };
}

/** The number of a frame in another merge; −1 where it is not in it. */
function indexIn({ frames }: CarryMerge, { id, name }: CarryFrame): number {
  const same = frames.findIndex((f) => f.id === id);
  return same === -1 ? frames.findIndex((f) => f.name === name) : same;
}

/** Whether the frames lie where they did, all around what an operation touches. */
function staysAt(operation: Operation, from: CarryMerge, to: CarryMerge): boolean {
  if (from.width !== to.width || from.height !== to.height) return false;
  return partsOf(operation).every(({ donor, shape }) => {
    const { x, y, width, height } = shapeRegion(shape);
    const move = moveBy(from, to, donor === null ? null : from.frames[donor]!);
    const clamp = ([u, v]: Point): Point => [
      Math.min(from.width, Math.max(0, u)),
      Math.min(from.height, Math.max(0, v)),
    ];
    return [
      [x, y],
      [x + width, y],
      [x, y + height],
      [x + width, y + height],
    ].every((corner) => {
      const [u, v] = clamp(corner as [number, number]);
      const at = move([u, v]);
      return at !== null && Math.hypot(at[0] - u, at[1] - v) < STAYS_PX;
    });
  });
}

/**
 * Where a point of the earlier merge lies in the later one: by what the frame shows there, or for the merge itself by whichever frame is
 * in both.
 */
function moveBy(from: CarryMerge, to: CarryMerge, frame: CarryFrame | null): Move {
  const pairs = (frame ? [frame] : from.frames).flatMap((old) => {
    const now = to.frames[indexIn(to, old)];
    return now ? [{ old: old.geometry, now: now.geometry }] : [];
  });
  return ([x, y]) => {
    for (const { old, now } of pairs) {
      const seen = mergeToFrame(old, x, y);
      const at = seen && frameToMerge(now, seen[0], seen[1]);
      if (at) return at;
    }
    return null;
  };
}

/** A drawn mask where it lies now; null where it cannot be moved point by point. */
function moved(shape: DrawnShape, move: Move, { width, height }: CarryMerge): DrawnShape | null {
  if (shape.kind === 'picture') return null;
  if (shape.kind === 'fade') {
    const [from, to] = [move(shape.from), move(shape.to)];
    return from && to && { ...shape, from, to, bounds: { x: 0, y: 0, width, height } };
  }
  const points = shape.points.map(([x, y]) => move([x, y]));
  if (points.includes(null)) return null;
  if (shape.kind === 'outline') return { ...shape, points: points as Point[] };
  return {
    ...shape,
    points: points.map((at, k) => {
      const pressure = shape.points[k]![2];
      return pressure === undefined ? at! : [at![0], at![1], pressure];
    }),
  };
}

/** A change of masks in the later merge; undefined where it cannot be carried over. */
function carriedMask(
  mask: OperationMask | null | undefined,
  stays: boolean,
  { width, height }: CarryMerge,
): OperationMask | null | undefined {
  if (!mask) return null;
  if (mask.snapped && !stays) return undefined;
  return { ...mask, insideOut: mask.insideOut && { x: 0, y: 0, width, height } };
}
