// Layers of a viewer: what is wanted against what is there. Pictures that were looked at stay warm, hidden, so that going back to them
// takes no time; a new state of a picture replaces the old one only when all of it that is in sight has been loaded.
import type { PictureRegion } from './camera';

/** A picture by tile identifier, in a state that may differ from tile to tile. */
export interface Layer {
  readonly id: string;
  readonly width: number;
  readonly height: number;
  /** Changes whenever the state of any tile may have changed. */
  readonly revision: string;
  /** Names the state of a part shown by a tile of so many px; parts whose name stays are not loaded again. */
  versionAt(region: PictureRegion, tileWidth: number): string;
  /** 0..1; 1 when left out. */
  readonly opacity?: number;
  /** Part of the picture that is shown; all of it when left out. */
  readonly clip?: PictureRegion;
  /** How it is laid over the layers below; over them when left out. */
  readonly composite?: GlobalCompositeOperation;
}

/** A layer that is there, wanted or not. */
export interface HeldLayer {
  readonly id: string;
  readonly revision: string;
}

export interface LayerPlan<H extends HeldLayer> {
  /** Wanted, from the lowest: what is held already, or null where it has to be made. */
  readonly shown: readonly { readonly layer: Layer; readonly held: H | null }[];
  /** To be hidden once all that is wanted is there. */
  readonly hide: readonly H[];
  /** To be removed then: older states, and what has been out of sight for longest. */
  readonly remove: readonly H[];
}

/** Hidden pictures that are kept. */
const MOST_WARM = 3;

/** @param held from what was looked at longest ago to what is looked at now */
export function planLayers<H extends HeldLayer>(held: readonly H[], wanted: readonly Layer[]): LayerPlan<H> {
  const same = (layer: Layer) => (h: H) => h.id === layer.id && h.revision === layer.revision;
  const shown = wanted.map((layer) => ({ layer, held: held.findLast(same(layer)) ?? null }));
  const used = new Set(shown.map((s) => s.held));
  const rest = held.filter((h) => !used.has(h));
  const ids = new Set(wanted.map((layer) => layer.id));
  // Of a picture that is out of sight only its newest state is worth anything.
  const newest = rest.filter((h, k) => !ids.has(h.id) && rest.findLastIndex((o) => o.id === h.id) === k);
  const hide = newest.slice(-MOST_WARM);
  return { shown, hide, remove: rest.filter((h) => !hide.includes(h)) };
}
