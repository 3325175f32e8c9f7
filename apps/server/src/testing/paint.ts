// Operations as tests make them.
import type { NamedChange, NewOperation, OperationChange } from '@blendrak/contract';

type Point = [number, number];

/** A stroke of a brush that paints a frame in. */
export function paintStroke(
  donor: number | null,
  points: Point[] = [[20, 20]],
  brush: { sizePx?: number; hardness?: number; strength?: number } = {},
): NewOperation {
  return { kind: 'paint', donor, shape: { kind: 'stroke', points, sizePx: 10, hardness: 0.5, strength: 1, ...brush } };
}

/** The body of a request that adds an operation. */
export function adding(id: string, operation: NewOperation): NamedChange {
  return { id, change: { kind: 'add', operation } };
}

let asked = 0;

/** The body of any other change, under a name of its own. */
export function asking(change: OperationChange): NamedChange {
  return { id: `change-${++asked}`, change };
}
