// All looks, in the order of their buttons. A new one is a file of its own and a line here.
import { before } from './before';
import { beside } from './beside';
import { difference } from './difference';
import { four } from './four';
import { frame } from './frame';
import { inTurn } from './inTurn';
import type { Look } from './look';
import { disagreement, risk, sharpness } from './maps';
import { parted } from './parted';
import { proposed } from './proposed';
import { repaired } from './repaired';

const ALL = [
  repaired,
  before,
  frame,
  proposed,
  beside,
  parted,
  inTurn,
  difference,
  four,
  sharpness,
  disagreement,
  risk,
] as const;

export type LookId = (typeof ALL)[number]['id'];

export const LOOKS: readonly Look<LookId>[] = ALL;

/** What is looked at. */
export interface LookState {
  readonly id: LookId;
  /** The frame it is about, if it is about one. */
  readonly frame: number;
}

export const lookOf = (id: LookId): Look<LookId> => LOOKS.find((look) => look.id === id)!;
export { showsRepair, type Look, type LookLayer, type LookSight, type Pane, type PictureOf } from './look';
