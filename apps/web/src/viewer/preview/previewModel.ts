// The preview worker without its thread: which tiles are composed of what, and in which order. What has to be fetched comes when it comes;
// until then whatever needs it waits, in order.
import {
  beginDraft,
  commitDraft,
  dropDraft,
  growDraft,
  layOperation,
  startTile,
  wholeTile,
  type ComposedTile,
  type TilePatch,
  type TilePixels,
} from './composeTile';
import type { FromPreview, ToPreview, WantedTile } from './messages';

interface TileState {
  tile: ComposedTile | null;
  /** Names of all operations that its pixels show; null while it is being made. */
  all: string;
  /** Work on it goes on one after the other. */
  queue: Promise<void>;
  isGone: boolean;
}

export interface PreviewModel {
  receive(message: ToPreview): void;
  /** Resolves when all that was received has been worked off. */
  settled(): Promise<void>;
}

/**
 * @param load pixels of an address; may fail, when the server is away: then the tile is not shown
 * @param send tells the page
 */
export function makePreview(
  load: (url: string) => Promise<TilePixels>,
  send: (message: FromPreview) => void,
): PreviewModel {
  const tiles = new Map<string, TileState>();
  /** Tiles that the shape being drawn has reached. */
  const drawn = new Set<string>();

  const tell = (key: string, { region: { width, height } }: ComposedTile, patch: TilePatch | null): void => {
    if (patch) send({ kind: 'patch', key, width, height, patch, isAll: false });
  };
  /** Tells all that is shown of a tile. */
  const tellAll = (key: string, tile: ComposedTile, patch: TilePatch | null): void => {
    const { width, height } = tile.region;
    if (patch) send({ kind: 'patch', key, width, height, patch, isAll: true });
    else send({ kind: 'gone', key });
  };
  const stateOf = (key: string): TileState => {
    const known = tiles.get(key);
    if (known) return known;
    const made: TileState = { tile: null, all: '', queue: Promise.resolve(), isGone: false };
    tiles.set(key, made);
    return made;
  };
  const enqueue = (state: TileState, work: () => Promise<void> | void): void => {
    // A tile whose pixels cannot be had is left as it is; it is asked for again with the next change.
    state.queue = state.queue.then(() => (state.isGone ? undefined : work())).catch(() => undefined);
  };
  const compose = async (state: TileState, wanted: WantedTile): Promise<void> => {
    const all = wanted.all.join(' ');
    if (state.tile && state.all === all) return;
    const before = state.tile;
    const grows = before && all.startsWith(`${state.all} `);
    const known = grows ? new Set(state.all.split(' ')) : null;
    const fresh = wanted.operations.filter((o) => !known?.has(o.id));
    const [base, ...donors] = await Promise.all([
      grows ? null : load(wanted.baseUrl),
      ...fresh.map((o) => load(o.donorUrl)),
    ]);
    const tile = base ? startTile(wanted.region, wanted.scale, base.slice()) : before!;
    fresh.forEach((o, k) => layOperation(tile, o.shape, donors[k]!));
    state.tile = tile;
    state.all = all;
    tellAll(wanted.key, tile, wholeTile(tile));
  };

  const want = (wanted: readonly WantedTile[]): void => {
    const keys = new Set(wanted.map((w) => w.key));
    for (const [key, state] of tiles) {
      if (keys.has(key) || drawn.has(key)) continue;
      state.isGone = true;
      tiles.delete(key);
      send({ kind: 'gone', key });
    }
    for (const one of wanted) {
      const state = stateOf(one.key);
      // While something is drawn on it, it stays as it is.
      if (!drawn.has(one.key)) enqueue(state, () => compose(state, one));
    }
  };
  const draw = ({ piece, keys, first }: Extract<ToPreview, { kind: 'draw' }>): void => {
    for (const one of first) {
      const state = stateOf(one.key);
      drawn.add(one.key);
      enqueue(state, async () => {
        await compose(state, one);
        const donor = await load(one.donorUrl);
        if (state.tile) beginDraft(state.tile, donor);
      });
    }
    for (const key of keys) {
      const state = stateOf(key);
      enqueue(state, () => {
        if (state.tile) tell(key, state.tile, growDraft(state.tile, piece));
      });
    }
  };
  const end = (how: (state: TileState, key: string) => void): void => {
    for (const key of drawn) {
      const state = tiles.get(key);
      if (state) enqueue(state, () => how(state, key));
    }
    drawn.clear();
  };
  const settled = async (): Promise<void> => {
    await Promise.all([...tiles.values()].map((s) => s.queue));
  };
  return {
    settled,
    receive(message) {
      switch (message.kind) {
        case 'want':
          want(message.tiles);
          return;
        case 'fetch':
          // Only to have it at hand: what fails now is asked for again when it is needed.
          for (const url of message.urls) load(url).catch(() => undefined);
          return;
        case 'draw':
          draw(message);
          return;
        case 'commit':
          end((state) => {
            if (!state.tile) return;
            commitDraft(state.tile);
            state.all = state.all === '' ? message.id : `${state.all} ${message.id}`;
          });
          return;
        case 'giveUp':
          end((state, key) => {
            if (state.tile) tellAll(key, state.tile, dropDraft(state.tile));
          });
      }
    },
  };
}
