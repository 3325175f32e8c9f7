// The preview on the page's side: says which tiles are wanted, and of what they are made.
import { partsOf, shapeRegion, type MaskShape, type PlacedOperation } from '@blendrak/core/repair';
import { inSight, meets, type PictureRegion, type PictureSize } from '../camera';
import type { DeepView } from '../deepView';
import { levelFor, scaleOf, tileAt, tilesTouching, TILE_PX } from '../tileGrid';
import type { FromPreview, ToPreview, WantedTile } from './messages';
import { showTiles } from './shownTiles';

export interface PreviewSource extends PictureSize {
  /** Address of a tile of the picture as the server has it, and the operations that this shows, in order. */
  base(region: PictureRegion, width: number, height: number): { readonly url: string; readonly all: readonly string[] };
  /** Address of a tile of a donor; null: of the merge as it came. */
  donor(donor: number | null, region: PictureRegion, width: number, height: number): string;
}

export interface Preview {
  /** Shows operations over the picture that it does not show itself, in order; none: nothing. */
  show(source: PreviewSource, operations: readonly PlacedOperation[]): void;
  /** Gets the donor's pixels that are in sight. */
  prepare(donor: number | null): void;
  /** Shows a further piece of a shape that is being drawn with a donor. */
  draw(donor: number | null, piece: MaskShape): void;
  /** What has been drawn is this operation from now on. */
  commit(operation: PlacedOperation): void;
  giveUp(): void;
  /** Whether it is to be seen: not while something else than the repaired picture is looked at. */
  setVisible(visible: boolean): void;
  close(): void;
}

/** The picture counts as at rest when it has not moved for so long. */
const REST_MS = 60;

function keyOf(level: number, column: number, row: number): string {
  return `${level}/${column}/${row}`;
}

/** A tile as the worker needs to know it, with operations over it that its base does not show. */
function describeTile(
  from: PreviewSource,
  level: number,
  [column, row]: readonly [number, number],
  operations: readonly PlacedOperation[],
): WantedTile & { readonly place: PictureRegion } {
  const { region, width, height } = tileAt(from, level, column, row);
  const base = from.base(region, width, height);
  const reaching = operations.filter((o) => meets(o.region, region));
  return {
    key: keyOf(level, column, row),
    place: region,
    region: { x: column * TILE_PX, y: row * TILE_PX, width, height },
    scale: scaleOf(from, level),
    baseUrl: base.url,
    all: [...base.all, ...reaching.map((o) => o.id)],
    operations: reaching.flatMap((operation) =>
      partsOf(operation).map(({ shape, donor }) => ({
        id: operation.id,
        shape,
        donorUrl: from.donor(donor, region, width, height),
      })),
    ),
  };
}

/** Opens a preview over a view. */
export function openPreview(deep: DeepView): Preview {
  const worker = new Worker(new URL('../../workers/previewWorker.ts', import.meta.url), {
    type: 'module',
    name: 'blendrak-preview',
  });
  const send = (message: ToPreview): void => worker.postMessage(message);
  const tiles = showTiles(deep.overlays.preview);
  worker.onmessage = ({ data }: MessageEvent<FromPreview>) => tiles.receive(data);
  let source: PreviewSource | null = null;
  let shown: readonly PlacedOperation[] = [];
  let prepared: number | null | undefined;
  /** Tiles that the shape being drawn has reached. */
  const drawnOn = new Set<string>();

  /** The level that the view needs, and what of the picture is in sight. */
  const inView = (from: PreviewSource): { level: number; seen: PictureRegion | null } => {
    const camera = deep.camera('aim');
    const level = levelFor(from, camera.zoom * window.devicePixelRatio);
    tiles.setLevel(level);
    return { level, seen: inSight(camera, from) };
  };
  const describe = (from: PreviewSource, level: number, at: readonly [number, number]): WantedTile => {
    const { place, ...wanted } = describeTile(from, level, at, shown);
    tiles.place(wanted.key, place, level);
    return wanted;
  };
  const want = (): void => {
    if (!source) return;
    const from = source;
    const { level, seen } = inView(from);
    const places = seen && shown.length > 0 ? tilesTouching(from, level, seen) : [];
    const wanted = places.map((at) => describe(from, level, at));
    send({ kind: 'want', tiles: wanted.filter((w) => w.operations.length > 0) });
  };
  const fetchDonor = (donor: number | null): void => {
    if (!source) return;
    const from = source;
    const { level, seen } = inView(from);
    const urls = (seen ? tilesTouching(from, level, seen) : []).flatMap(([column, row]) => {
      const { region, width, height } = tileAt(from, level, column, row);
      return [from.base(region, width, height).url, from.donor(donor, region, width, height)];
    });
    send({ kind: 'fetch', urls });
  };
  let timer = 0;
  const stop = deep.onChange(() => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => {
      if (shown.length > 0) want();
      if (prepared !== undefined) fetchDonor(prepared);
    }, REST_MS);
  });

  return {
    show(from, operations) {
      source = from;
      if (operations.length === 0 && shown.length === 0) return;
      shown = operations;
      want();
    },
    prepare(donor) {
      prepared = donor;
      fetchDonor(donor);
    },
    draw(donor, piece) {
      if (!source) return;
      const from = source;
      const { level } = inView(from);
      const places = tilesTouching(from, level, shapeRegion(piece));
      const fresh = places.filter(([column, row]) => !drawnOn.has(keyOf(level, column, row)));
      const first = fresh.map((at) => {
        const { region, width, height } = tileAt(from, level, ...at);
        const wanted = describe(from, level, at);
        drawnOn.add(wanted.key);
        return { ...wanted, donorUrl: from.donor(donor, region, width, height) };
      });
      send({ kind: 'draw', piece, keys: places.map(([column, row]) => keyOf(level, column, row)), first });
    },
    commit(operation) {
      drawnOn.clear();
      // It is among those that are shown at once: nobody may think meanwhile that its tiles are not wanted.
      shown = [...shown, operation];
      send({ kind: 'commit', id: operation.id });
    },
    giveUp() {
      drawnOn.clear();
      send({ kind: 'giveUp' });
    },
    setVisible: tiles.setVisible,
    close() {
      stop();
      window.clearTimeout(timer);
      tiles.remove();
      worker.terminate();
    },
  };
}
