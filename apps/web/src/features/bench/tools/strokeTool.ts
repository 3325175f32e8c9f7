// Tools that lay a stroke of a round brush; they differ in what they paint with.
import { drawBrush } from './drawBrush';
import type { Brush, Grown, PenSample, Tool } from './tool';

type PenPoint = [number, number, number?];

export interface StrokeDraft {
  readonly donor: number | null;
  readonly brush: Brush;
  readonly points: readonly PenPoint[];
}

/** Samples nearer to each other than this say nothing new, picture px. */
const APART_PX = 0.5;

export function strokeTool<Id extends string>(
  tool: Pick<Tool<Id>, 'id' | 'name' | 'words' | 'hint' | 'isReady' | 'donorOf'>,
): Tool<Id, StrokeDraft> {
  return {
    ...tool,
    group: 'repair',
    place: 'bar',
    settings: ['sizePx', 'hardness', 'strength'],
    begin: (at, hand) => ({ donor: tool.donorOf(hand), brush: hand.brush, points: [penPoint(at)] }),
    extend(draft, samples) {
      const last = draft.points.at(-1)!;
      const fresh = samples.map(penPoint).filter(([x, y]) => Math.hypot(x - last[0], y - last[1]) > APART_PX);
      if (fresh.length === 0) return [draft, null];
      return [{ ...draft, points: [...draft.points, ...fresh] }, piece(draft, [last, ...fresh])];
    },
    shown: (draft) => piece(draft, [...draft.points]),
    finish: ({ donor, brush, points }) => ({
      kind: 'change',
      operation: { kind: 'paint', donor, shape: { kind: 'stroke', points: [...points], ...brush } },
    }),
    draw: (context, camera, at, brush) => drawBrush(context, camera, at, brush),
  };
}

function piece({ donor, brush }: StrokeDraft, points: PenPoint[]): Grown {
  return { donor, piece: { kind: 'stroke', points, ...brush } };
}

/** Hundredths of a px, and of full pressure, are finer than any hand; full pressure is not written down. */
function penPoint({ x, y, pressure }: PenSample): PenPoint {
  const round = (v: number): number => Math.round(v * 100) / 100;
  const firm = round(pressure);
  return firm < 1 ? [round(x), round(y), firm] : [round(x), round(y)];
}
