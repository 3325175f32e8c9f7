// Tiles that will never change, kept while there is room: viewers of the same picture ask for the same ones.
import { LRUCache } from 'lru-cache';

export interface TileCache {
  /** The tile, made when it is not kept; asked for twice at once it is made once. */
  get(key: string, make: () => Promise<Uint8Array>): Promise<Uint8Array>;
}

/** @param mostBytes held; the least recently asked for go first */
export function makeTileCache(mostBytes = 96e6): TileCache {
  const kept = new LRUCache<string, Uint8Array>({
    maxSize: mostBytes,
    sizeCalculation: (tile) => Math.max(1, tile.byteLength),
  });
  const making = new Map<string, Promise<Uint8Array>>();
  return {
    get(key, make) {
      const known = kept.get(key);
      if (known) return Promise.resolve(known);
      const underWay = making.get(key);
      if (underWay) return underWay;
      const made = make()
        .then((tile) => {
          kept.set(key, tile);
          return tile;
        })
        .finally(() => making.delete(key));
      making.set(key, made);
      return made;
    },
  };
}
