// Another merge of a set, made where a merge of it has its frames; runs in the conductor's thread and writes no row.
import { mergeInPlace, type PlacedMerge, type PlaceOrder, type StepContext } from '../../pipeline';

export interface SourceRequest extends PlaceOrder {
  /** Path that receives its tiles. */
  readonly tiles: string;
}

/** @throws NoRoomError when the disk cannot hold it */
export function makeSource({ tiles, ...order }: SourceRequest, context: StepContext): Promise<PlacedMerge> {
  return mergeInPlace(order, tiles, context);
}
