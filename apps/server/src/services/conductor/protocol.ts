// What the conductor's thread can be asked for: one table, call → [request, response].
import type { CardOrder, ShootOrder } from '@blendrak/contract';
import type { Answer } from '../../jobs';
import type { Card, CardTruth } from '../camera';
import type { FirstSeen, PlacedMerge, PlaceOrder } from '../../pipeline';
import type { MadeMerge, MergeOrder } from '../make/mergeOrder';

export interface Calls {
  /** One task of the pool, as `RunTask` has it. */
  readonly task: [{ readonly name: string; readonly request: unknown }, unknown];
  /** Aligns, merges or registers, inspects a set. */
  readonly merge: [MergeOrder, MadeMerge];
  /** Merges a set once more where a merge of it has its frames, into a tile file. */
  readonly source: [{ readonly order: PlaceOrder; readonly tiles: string }, PlacedMerge];
  /** Photographs an order with the simulated camera. */
  readonly shoot: [{ readonly order: ShootOrder; readonly folder: string }, Card];
  /** Photographs several sets onto one card. */
  readonly shootCard: [{ readonly order: CardOrder; readonly folder: string }, CardTruth];
}

export type CallName = keyof Calls;

export type ToConductor =
  { readonly id: number; readonly name: CallName; readonly request: unknown } | { readonly abort: number };

export type FromConductor =
  | { readonly id: number; readonly progress: readonly [share: number, message: string] }
  | { readonly id: number; readonly first: FirstSeen }
  | { readonly id: number; readonly answer: Answer }
  | { readonly id: number; readonly failure: string };
