// Tools that are drawn from one place to another; they differ in what they ask for then.
import { toScreen, type Camera, type Place } from '../../../viewer/camera';
import { drawCross, drawTwice } from '../../../viewer/drawTwice';
import type { Outcome, Start, Tool } from './tool';

export interface SegmentDraft {
  readonly from: Place;
  readonly to: Place;
  /** What was in hand when it was begun. */
  readonly start: Start;
}

const TICK_PX = 6;
const ARM_PX = 9;

type Words = 'id' | 'name' | 'words' | 'hint' | 'group' | 'place' | 'settings';

interface SegmentWork {
  /** Shorter segments were only touched, picture px. */
  readonly leastPx: number;
  /** Whether it paints with the frame in hand. */
  readonly needsDonor?: boolean;
  asks(draft: SegmentDraft): Outcome;
  /** A plain segment where it is left out. */
  readonly draw?: Tool<string, SegmentDraft>['draw'];
}

export function segmentTool<Id extends string>(
  tool: Pick<Tool<Id>, Words>,
  { leastPx, needsDonor = false, asks, draw = drawSegment }: SegmentWork,
): Tool<Id, SegmentDraft> {
  return {
    ...tool,
    isReady: ({ donor }) => !needsDonor || donor !== null,
    donorOf: ({ donor }) => (needsDonor ? donor : null),
    begin: ({ x, y }, start) => ({ from: { x, y }, to: { x, y }, start }),
    extend(draft, samples) {
      const { x, y } = samples.at(-1)!;
      return [{ ...draft, to: { x, y } }, null];
    },
    shown: () => null,
    finish: (draft) => (lengthOf(draft) < leastPx ? null : asks(draft)),
    draw,
  };
}

/** Picture px. */
export function lengthOf({ from, to }: Pick<SegmentDraft, 'from' | 'to'>): number {
  return Math.hypot(to.x - from.x, to.y - from.y);
}

export function pointOf({ x, y }: Place): [number, number] {
  return [x, y];
}

/** A line with a tick across either end, or a cross while nothing is drawn. */
function drawSegment(
  context: CanvasRenderingContext2D,
  camera: Camera,
  at: Place,
  _brush: unknown,
  draft: SegmentDraft | null,
): void {
  if (draft) drawTicked(context, camera, draft, TICK_PX);
  else drawCross(context, toScreen(camera, at), ARM_PX);
}

/** @param farTickPx half the length of the tick at the far end */
export function drawTicked(
  context: CanvasRenderingContext2D,
  camera: Camera,
  { from, to }: SegmentDraft,
  farTickPx: number,
): void {
  const [a, b] = [toScreen(camera, from), toScreen(camera, to)];
  const far = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const [nx, ny] = [-(b.y - a.y) / far, (b.x - a.x) / far];
  drawTwice(context, () => {
    context.moveTo(a.x, a.y);
    context.lineTo(b.x, b.y);
    for (const [end, tick] of [
      [a, TICK_PX],
      [b, farTickPx],
    ] as const) {
      context.moveTo(end.x - tick * nx, end.y - tick * ny);
      context.lineTo(end.x + tick * nx, end.y + tick * ny);
    }
  });
}
