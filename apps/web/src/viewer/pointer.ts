// Mouse, pen and fingers over a picture, told apart: one hand works with a tool, moves the picture, or pinches it. A state machine of
// plain data; `bindPointer` feeds it.

export interface PointerSample {
  /** CSS px from the pane's upper left corner. */
  readonly x: number;
  readonly y: number;
  /** 0..1; 1 for what cannot tell. */
  readonly pressure: number;
}

export type PointerKind = 'mouse' | 'pen' | 'touch';

export interface PointerInput {
  readonly phase: 'down' | 'move' | 'up' | 'cancel';
  readonly id: number;
  readonly kind: PointerKind;
  /** Of a phase "down": 0 main, 1 middle, 2 secondary. */
  readonly button: number;
  /** The newest last; at least one. */
  readonly samples: readonly PointerSample[];
}

export type Gesture =
  | { readonly kind: 'idle' }
  | {
      readonly kind: 'tool';
      readonly id: number;
      readonly by: PointerKind;
      readonly from: PointerSample;
      readonly travelled: number;
    }
  | {
      readonly kind: 'pan';
      readonly id: number;
      readonly by: PointerKind;
      readonly from: PointerSample;
      readonly last: PointerSample;
    }
  | {
      readonly kind: 'pinch';
      readonly fingers: ReadonlyMap<number, PointerSample>;
    };

export type PointerEffect =
  | { readonly kind: 'hover'; readonly at: PointerSample }
  | { readonly kind: 'begin' | 'extend'; readonly samples: readonly PointerSample[] }
  | { readonly kind: 'finish' | 'giveUp' }
  | { readonly kind: 'pan'; readonly dx: number; readonly dy: number }
  | { readonly kind: 'zoom'; readonly factor: number; readonly about: { readonly x: number; readonly y: number } }
  /** Two fingers: the picture moves by so much, then zooms about a place. */
  | {
      readonly kind: 'pinch';
      readonly dx: number;
      readonly dy: number;
      readonly factor: number;
      readonly about: { readonly x: number; readonly y: number };
    }
  | { readonly kind: 'tap'; readonly at: PointerSample };

export const IDLE: Gesture = { kind: 'idle' };

/** A finger that moved less than this has only touched; a second one meanwhile turns a stroke into a pinch. */
const STILL_PX = 10;

const NOTHING: readonly PointerEffect[] = [];

/**
 * @param hasTool whether something is in hand that the main button, the pen or one finger works with
 * @returns what goes on now, and what happens for it
 */
export function stepPointer(
  gesture: Gesture,
  input: PointerInput,
  hasTool: boolean,
): readonly [Gesture, readonly PointerEffect[]] {
  const at = input.samples.at(-1)!;
  if (input.phase === 'down') return pressed(gesture, input, at, hasTool);
  if (input.phase === 'move') return moved(gesture, input, at);
  return lifted(gesture, input, at);
}

function pressed(
  gesture: Gesture,
  { id, kind, button, samples }: PointerInput,
  at: PointerSample,
  hasTool: boolean,
): readonly [Gesture, readonly PointerEffect[]] {
  if (gesture.kind === 'idle') {
    if (button === 0 && hasTool)
      return [{ kind: 'tool', id, by: kind, from: at, travelled: 0 }, [{ kind: 'begin', samples }]];
    if (button <= 2) return [{ kind: 'pan', id, by: kind, from: at, last: at }, NOTHING];
    return [gesture, NOTHING];
  }
  if (kind !== 'touch') return [gesture, NOTHING];
  // A second finger: what the first one has hardly begun is given up for a pinch. A hand resting beside a pen does nothing.
  if (gesture.kind === 'pinch') return [gesture, NOTHING];
  if (gesture.by !== 'touch' || (gesture.kind === 'tool' && gesture.travelled > STILL_PX)) return [gesture, NOTHING];
  const first = gesture.kind === 'pan' ? gesture.last : gesture.from;
  const fingers = new Map([
    [gesture.id, first],
    [id, at],
  ]);
  return [{ kind: 'pinch', fingers }, gesture.kind === 'tool' ? [{ kind: 'giveUp' }] : NOTHING];
}

function moved(
  gesture: Gesture,
  { id, samples }: PointerInput,
  at: PointerSample,
): readonly [Gesture, readonly PointerEffect[]] {
  switch (gesture.kind) {
    case 'idle':
      return [gesture, [{ kind: 'hover', at }]];
    case 'tool': {
      if (id !== gesture.id) return [gesture, NOTHING];
      const travelled = Math.max(gesture.travelled, Math.hypot(at.x - gesture.from.x, at.y - gesture.from.y));
      return [
        { ...gesture, travelled },
        [
          { kind: 'hover', at },
          { kind: 'extend', samples },
        ],
      ];
    }
    case 'pan': {
      if (id !== gesture.id) return [gesture, NOTHING];
      const { last } = gesture;
      return [{ ...gesture, last: at }, [{ kind: 'pan', dx: at.x - last.x, dy: at.y - last.y }]];
    }
    case 'pinch': {
      const before = [...gesture.fingers.values()];
      if (!gesture.fingers.has(id)) return [gesture, NOTHING];
      const fingers = new Map(gesture.fingers).set(id, at);
      const now = [...fingers.values()];
      const about = middle(now);
      const from = middle(before);
      const factor = apart(now) / Math.max(1, apart(before));
      return [
        { kind: 'pinch', fingers },
        [{ kind: 'pinch', dx: about.x - from.x, dy: about.y - from.y, factor, about }],
      ];
    }
  }
}

function lifted(
  gesture: Gesture,
  { id, phase }: PointerInput,
  at: PointerSample,
): readonly [Gesture, readonly PointerEffect[]] {
  if (gesture.kind === 'idle') return [gesture, NOTHING];
  if (gesture.kind === 'pinch') {
    if (!gesture.fingers.has(id)) return [gesture, NOTHING];
    const [left] = [...gesture.fingers].filter(([finger]) => finger !== id);
    // The finger that stays goes on moving the picture.
    if (!left) return [IDLE, NOTHING];
    const [rest, last] = left;
    const elsewhere = { x: last.x + 2 * STILL_PX, y: last.y, pressure: 1 };
    return [{ kind: 'pan', id: rest, by: 'touch', from: elsewhere, last }, NOTHING];
  }
  if (id !== gesture.id) return [gesture, NOTHING];
  if (gesture.kind === 'tool') return [IDLE, [{ kind: phase === 'cancel' ? 'giveUp' : 'finish' }]];
  const still = Math.hypot(at.x - gesture.from.x, at.y - gesture.from.y) < STILL_PX;
  return [IDLE, phase === 'up' && still && gesture.by !== 'mouse' ? [{ kind: 'tap', at }] : NOTHING];
}

function middle(fingers: readonly PointerSample[]): { x: number; y: number } {
  const mean = (of: (s: PointerSample) => number): number =>
    fingers.reduce((sum, s) => sum + of(s), 0) / fingers.length;
  return { x: mean((s) => s.x), y: mean((s) => s.y) };
}

function apart([a, b]: readonly PointerSample[]): number {
  return a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 1;
}

export interface PointerHandlers {
  hasTool(): boolean;
  on(effect: PointerEffect): void;
  leave(): void;
  /** @returns whether the wheel has been used; else it zooms */
  wheel(event: WheelEvent): boolean;
}

const ZOOM_PER_NOTCH = 1.25;
const NOTCH_PX = 100;

/** Feeds the state machine from an element until the returned function is called, which gives up what has begun. */
export function bindPointer(element: HTMLElement, handlers: PointerHandlers): () => void {
  let gesture: Gesture = IDLE;
  const feed = (input: PointerInput): void => {
    const [next, effects] = stepPointer(gesture, input, handlers.hasTool());
    gesture = next;
    effects.forEach((effect) => handlers.on(effect));
  };
  const inputOf = (event: PointerEvent, phase: PointerInput['phase']): PointerInput => {
    const box = element.getBoundingClientRect();
    const coalesced = phase === 'move' ? event.getCoalescedEvents() : [];
    const samples = (coalesced.length > 0 ? coalesced : [event]).map((e) => ({
      x: e.clientX - box.left,
      y: e.clientY - box.top,
      pressure: e.pointerType === 'pen' ? e.pressure : 1,
    }));
    const kind = event.pointerType === 'pen' || event.pointerType === 'touch' ? event.pointerType : 'mouse';
    return { phase, id: event.pointerId, kind, button: event.button, samples };
  };
  const down = (event: PointerEvent): void => {
    element.setPointerCapture(event.pointerId);
    element.focus({ preventScroll: true });
    feed(inputOf(event, 'down'));
    event.preventDefault();
  };
  const move = (event: PointerEvent): void => feed(inputOf(event, 'move'));
  const up = (event: PointerEvent): void => feed(inputOf(event, 'up'));
  const cancel = (event: PointerEvent): void => feed(inputOf(event, 'cancel'));
  const leave = (): void => {
    if (gesture.kind === 'idle') handlers.leave();
  };
  const wheel = (event: WheelEvent): void => {
    event.preventDefault();
    if (handlers.wheel(event)) return;
    const box = element.getBoundingClientRect();
    const notches = event.deltaMode === WheelEvent.DOM_DELTA_PIXEL ? event.deltaY / NOTCH_PX : Math.sign(event.deltaY);
    const about = { x: event.clientX - box.left, y: event.clientY - box.top };
    handlers.on({ kind: 'zoom', factor: ZOOM_PER_NOTCH ** -Math.max(-3, Math.min(3, notches)), about });
  };
  const quiet = (event: Event): void => event.preventDefault();
  const listeners = [
    ['pointerdown', down],
    ['pointermove', move],
    ['pointerup', up],
    ['pointercancel', cancel],
    ['pointerleave', leave],
    ['wheel', wheel],
    ['contextmenu', quiet],
  ] as const;
  for (const [name, listener] of listeners)
    element.addEventListener(name, listener as EventListener, { passive: false });
  return () => {
    if (gesture.kind === 'tool') handlers.on({ kind: 'giveUp' });
    gesture = IDLE;
    for (const [name, listener] of listeners) element.removeEventListener(name, listener as EventListener);
  };
}
