// Tools that lay a stroke of a round brush; they differ in what they paint with.
import { toScreen, type Camera, type Place } from '../../../viewer/camera';
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
    draw: (context, camera, at, { brush }) => drawBrush(context, camera, at, brush),
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

/** The brush's outline: where it is full, and where it ends. Dark under light: seen on any tone. */
function drawBrush(context: CanvasRenderingContext2D, camera: Camera, at: Place, brush: Brush): void {
  const { x, y } = toScreen(camera, at);
  const radius = (brush.sizePx / 2) * camera.zoom;
  const ring = (r: number, width: number, style: string, dash: number[]): void => {
    context.beginPath();
    context.arc(x, y, r, 0, 2 * Math.PI);
    context.lineWidth = width;
    context.strokeStyle = style;
    context.setLineDash(dash);
    context.stroke();
  };
  ring(radius, 2.5, 'rgba(0, 0, 0, 0.6)', []);
  ring(radius, 1, '#fff', []);
  ring(Math.max(0.5, radius * brush.hardness), 1, '#fff', [2, 4]);
}
