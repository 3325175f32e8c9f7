// The preview on the page's side: says which tiles are wanted, keeps what comes as canvases in picture coordinates, and draws them.
import { shapeRegion, type MaskShape, type PlacedOperation } from '@blendrak/core/repair';
import { inSight, meets, union, type Camera, type PictureRegion, type PictureSize } from '../camera';
import type { DeepView } from '../deepView';
import { levelFor, scaleOf, tileAt, tilesTouching, TILE_PX } from '../tileGrid';
import type { FromPreview, ToPreview, WantedTile } from './messages';

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

interface ShownTile {
  readonly canvas: OffscreenCanvas;
  /** Part of the picture, picture px. */
  readonly place: PictureRegion;
  readonly level: number;
  /** The part of the canvas on which something is. */
  shown: PictureRegion;
}

/** The picture counts as at rest when it has not moved for so long. */
const REST_MS = 60;

/** Opens a preview over a view. */
export function openPreview(deep: DeepView): Preview {
  const worker = new Worker(new URL('../../workers/previewWorker.ts', import.meta.url), {
    type: 'module',
    name: 'blendrak-preview',
  });
  const send = (message: ToPreview): void => worker.postMessage(message);
  const tiles = new Map<string, ShownTile>();
  let source: PreviewSource | null = null;
  let shown: readonly PlacedOperation[] = [];
  /** Tiles that the shape being drawn has reached. */
  const drawnOn = new Set<string>();
  let isVisible = true;
  let level = 0;

  const drawing = deep.overlays.preview.add((context, camera) => {
    if (!isVisible) return;
    // The level that is being worked on lies on top.
    const ordered = [...tiles.values()].sort((a, b) => Math.abs(b.level - level) - Math.abs(a.level - level));
    for (const { canvas, place, shown: part } of ordered) {
      // Only what there is: filling the pane anew for every move of the hand takes longer than a frame where nothing helps to draw.
      const scale = (camera.zoom * place.width) / canvas.width;
      const x = (place.x - camera.originX) * camera.zoom + part.x * scale;
      const y = (place.y - camera.originY) * camera.zoom + part.y * scale;
      const [width, height] = [part.width * scale, part.height * scale];
      context.drawImage(canvas, part.x, part.y, part.width, part.height, x, y, width, height);
    }
  });

  const placeOf = new Map<string, { readonly place: PictureRegion; readonly level: number }>();
  worker.onmessage = ({ data }: MessageEvent<FromPreview>) => {
    if (data.kind === 'gone') tiles.delete(data.key);
    else if (data.kind === 'patch') {
      const where = placeOf.get(data.key);
      if (!where) return;
      const { width, height, patch, isAll } = data;
      const known = tiles.get(data.key);
      const tile = known ?? { canvas: new OffscreenCanvas(width, height), ...where, shown: patch };
      tiles.set(data.key, tile);
      const context = tile.canvas.getContext('2d')!;
      if (isAll) context.clearRect(0, 0, width, height);
      context.putImageData(new ImageData(patch.data, patch.width, patch.height), patch.x, patch.y);
      tile.shown = isAll ? patch : union(tile.shown, patch);
    } else return;
    drawing.changed();
  };

  const wantedTile = (from: PreviewSource, column: number, row: number, operations: readonly PlacedOperation[]) => {
    const { region, width, height } = tileAt(from, level, column, row);
    const scale = scaleOf(from, level);
    const key = keyOf(level, column, row);
    placeOf.set(key, { place: region, level });
    const base = from.base(region, width, height);
    const reaching = operations.filter((o) => meets(o.region, region));
    const wanted: WantedTile = {
      key,
      region: { x: column * TILE_PX, y: row * TILE_PX, width, height },
      scale,
      baseUrl: base.url,
      all: [...base.all, ...reaching.map((o) => o.id)],
      operations: reaching.map(({ id, shape, donor }) => ({
        id,
        shape,
        donorUrl: from.donor(donor, region, width, height),
      })),
    };
    return { wanted, region, width, height };
  };
  const takeLevel = (camera: Camera): void => {
    if (source) level = levelFor(source, camera.zoom * window.devicePixelRatio);
  };
  const want = (): void => {
    if (!source) return;
    const camera = deep.camera('aim');
    takeLevel(camera);
    const seen = inSight(camera, source);
    const from = source;
    const places = seen && shown.length > 0 ? tilesTouching(from, level, seen) : [];
    const wanted = places.map(([column, row]) => wantedTile(from, column, row, shown).wanted);
    send({ kind: 'want', tiles: wanted.filter((w) => w.operations.length > 0) });
  };
  let timer = 0;
  const stop = deep.onChange(() => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => {
      if (shown.length > 0) want();
      if (prepared !== undefined) fetchDonor(prepared);
    }, REST_MS);
  });
  let prepared: number | null | undefined;
  const fetchDonor = (donor: number | null): void => {
    if (!source) return;
    const camera = deep.camera('aim');
    const at = levelFor(source, camera.zoom * window.devicePixelRatio);
    const seen = inSight(camera, source);
    if (!seen) return;
    const from = source;
    const urls = tilesTouching(from, at, seen).flatMap(([column, row]) => {
      const { region, width, height } = tileAt(from, at, column, row);
      return [from.base(region, width, height).url, from.donor(donor, region, width, height)];
    });
    send({ kind: 'fetch', urls });
  };

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
      takeLevel(deep.camera('aim'));
      const places = tilesTouching(from, level, shapeRegion(piece));
      const keys = places.map(([column, row]) => keyOf(level, column, row));
      const first = places.flatMap(([column, row], k) => {
        if (drawnOn.has(keys[k]!)) return [];
        drawnOn.add(keys[k]!);
        const { wanted, region, width, height } = wantedTile(from, column, row, shown);
        return [{ ...wanted, donorUrl: from.donor(donor, region, width, height) }];
      });
      send({ kind: 'draw', piece, keys, first });
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
    setVisible(visible) {
      isVisible = visible;
      drawing.changed();
    },
    close() {
      stop();
      window.clearTimeout(timer);
      drawing.remove();
      worker.terminate();
    },
  };
}

function keyOf(level: number, column: number, row: number): string {
  return `${level}/${column}/${row}`;
}
