// A tool is a small state machine of plain data: from samples of the pointer to a draft, and from the draft to what it is for. What it
// shows meanwhile is drawn from the same data.
import type { HandOrder, MaskShapeRecord, NewOperation, NewPin } from '@blendrak/contract';
import type { Camera, PictureSize, Place } from '../../../viewer/camera';
import type { CommandWords } from '../../../shared/commands/keys';

export interface Brush {
  /** Diameter, picture px. */
  readonly sizePx: number;
  readonly hardness: number;
  readonly strength: number;
}

/** A sample in picture px. */
export interface PenSample extends Place {
  /** 0..1. */
  readonly pressure: number;
}

/** What else is in hand. */
export interface Hand {
  readonly donor: number | null;
  readonly brush: Brush;
}

/** What a draft begins with. */
export interface Start extends Hand {
  /** The picture that is worked on, px. */
  readonly picture: PictureSize;
}

/** What is shown at once of a draft that has grown. */
export interface Grown {
  readonly donor: number | null;
  readonly piece: MaskShapeRecord;
}

/** What a finished draft asks for. */
export type Outcome =
  | { readonly kind: 'change'; readonly operation: NewOperation }
  | { readonly kind: 'measure'; readonly pin: NewPin }
  | { readonly kind: 'order'; readonly order: HandOrder }
  /** The draft is not done: what comes next goes on with it. */
  | { readonly kind: 'goOn' }
  | { readonly kind: 'mark'; readonly polygon: [number, number][] };

export interface Tool<Id extends string = string, Draft = unknown> {
  readonly id: Id;
  /** Its word on the button. */
  readonly name: string;
  readonly words: Omit<CommandWords, 'id'>;
  /** Whether it changes the picture, or looks at it. */
  readonly group: 'repair' | 'look';
  /** Whether it has a button of its own, or stands in a menu with its hint. */
  readonly place: 'bar' | 'menu';
  /** What to do with it, while it is in hand. */
  readonly hint: string;
  /** Which settings of the brush it has. */
  readonly settings: readonly (keyof Brush)[];
  /** Whether it can work with what is in hand. */
  isReady(hand: Pick<Hand, 'donor'>): boolean;
  /** Frame that it will paint with; null: the merge as it came, or none. */
  donorOf(hand: Pick<Hand, 'donor'>): number | null;
  /** @param before a draft that is to be gone on with */
  begin(at: PenSample, start: Start, before?: Draft): Draft;
  /** @returns the draft with samples added, and what of it is painted anew; null for that when nothing is */
  extend(draft: Draft, samples: readonly PenSample[]): readonly [Draft, Grown | null];
  /** What of a draft that has just begun is painted; null for tools that do not paint. */
  shown(draft: Draft): Grown | null;
  /** @returns null for a draft that is too small to ask for anything */
  finish(draft: Draft): Outcome | null;
  /** Draws what follows the pointer, and a draft under way, in CSS px of the pane. */
  draw(context: CanvasRenderingContext2D, camera: Camera, at: Place, brush: Brush, draft: Draft | null): void;
}
