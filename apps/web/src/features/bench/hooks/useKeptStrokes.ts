// Strokes that the server has not acknowledged are kept beyond the page, and those of pages that are gone are sent by this one.
import { useEffect } from 'react';
import { openStrokeKeeper, type StrokeKeeper } from '../strokeKeeper';
import { useBench } from '../store';

let keeping: Promise<void> | null = null;

/** @param complain is told once when the browser keeps nothing */
export function useKeptStrokes(complain: (words: string) => void): void {
  useEffect(() => {
    if (keeping) return;
    let told = false;
    const nothingKept = (): void => {
      if (!told) complain('This browser keeps nothing: strokes that are not saved yet last only as long as this page.');
      told = true;
    };
    keeping = openStrokeKeeper().then((keeper) => keepPending(keeper, nothingKept));
    keeping.catch(nothingKept);
  }, [complain]);
}

/**
 * Keeps the store's unsent strokes from now on, and adds what was left behind.
 * @param onTrouble is told when the browser cannot keep one
 */
export async function keepPending(keeper: StrokeKeeper, onTrouble: () => void): Promise<void> {
  // Whatever changes while the first ones are written is seen, too: the database takes changes in the order in which they come.
  useBench.subscribe(({ pending }, before) => {
    if (pending === before.pending) return;
    for (const stroke of pending) if (!before.pending.includes(stroke)) keeper.keep(stroke).catch(onTrouble);
    for (const stroke of before.pending) if (!pending.includes(stroke)) keeper.drop(stroke.id).catch(onTrouble);
  });
  await Promise.all(useBench.getState().pending.map((stroke) => keeper.keep(stroke)));
  const left = await keeper.adopt();
  useBench.setState(({ pending }) => ({
    pending: [...left.filter((s) => !pending.some((p) => p.id === s.id)), ...pending],
  }));
}
