// What threads answer each other: errors of our own lose their class on the way, so they travel as data.
import { InputError } from '../codecs';
import { isFull, KEEP_FREE_BYTES, NoRoomError } from '../shared/noRoom';

export type Answer =
  | { readonly value: unknown }
  | { readonly refused: { readonly file: string; readonly problem: string; readonly accepted: string } }
  | { readonly noRoom: { readonly what: string; readonly neededBytes: number; readonly freeBytes: number } };

/** An error that means something to whoever asked; null for one that does not. */
export function refusalOf(error: unknown): Answer | null {
  if (error instanceof InputError) {
    const { file, problem, accepted } = error;
    return { refused: { file, problem, accepted } };
  }
  if (error instanceof NoRoomError) {
    const { what, neededBytes, freeBytes } = error;
    return { noRoom: { what, neededBytes, freeBytes } };
  }
  if (isFull(error)) return { noRoom: { what: 'this step', neededBytes: KEEP_FREE_BYTES, freeBytes: 0 } };
  return null;
}

/** @throws the error that an answer carries */
export function valueOf(answer: Answer): unknown {
  if ('value' in answer) return answer.value;
  if ('refused' in answer) {
    const { file, problem, accepted } = answer.refused;
    throw new InputError(file, problem, accepted);
  }
  const { what, neededBytes, freeBytes } = answer.noRoom;
  throw new NoRoomError(what, neededBytes, freeBytes);
}
