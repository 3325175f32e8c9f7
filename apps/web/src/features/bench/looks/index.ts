// All looks, in the order of their buttons. A new one is a file of its own and a line here.
import { before } from './before';
import { beside } from './beside';
import { frame } from './frame';
import { repaired } from './repaired';

export const LOOKS = [repaired, before, frame, beside] as const;

export type LookId = (typeof LOOKS)[number]['id'];

/** What is looked at. */
export interface LookState {
  readonly id: LookId;
  /** The frame it is about, if it is about one. */
  readonly frame: number;
}

export const lookOf = (id: LookId) => LOOKS.find((look) => look.id === id)!;
export type { Look, LookLayer, Pane, PictureOf } from './look';
