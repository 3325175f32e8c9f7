// Tiles that will never change, kept while there is room: viewers of the same picture ask for the same ones.

export interface TileCache {
  /** The tile, made when it is not kept; asked for twice at once it is made once. */
  get(key: string, make: () => Promise<Uint8Array>): Promise<Uint8Array>;
}

/** @param mostBytes held; the least recently asked for go first */
export function makeTileCache(mostBytes = 96e6): TileCache {
  const kept = new Map<string, Uint8Array>();
  const making = new Map<string, Promise<Uint8Array>>();
  let bytes = 0;
  const keep = (key: string, tile: Uint8Array): void => {
    kept.set(key, tile);
    bytes += tile.byteLength;
    for (const [oldest, data] of kept) {
      if (bytes <= mostBytes) break;
      kept.delete(oldest);
      bytes -= data.byteLength;
    }
  };
  return {
    get(key, make) {
      const known = kept.get(key);
      if (known) {
        kept.delete(key);
        kept.set(key, known);
        return Promise.resolve(known);
      }
      const underWay = making.get(key);
      if (underWay) return underWay;
      const made = make()
        .then((tile) => {
          keep(key, tile);
          return tile;
        })
        .finally(() => making.delete(key));
      making.set(key, made);
      return made;
    },
  };
}
