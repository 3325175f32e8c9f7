// The layers of a viewer (OpenSeadragon): makes what is wanted, keeps what was looked at warm, and swaps when the new is there.
import OpenSeadragon from 'openseadragon';
import { tileUrl } from '../shared/api';
import { planLayers, type HeldLayer, type Layer } from './layers';
import { TILE_PX, tileAt, topLevel } from './tileGrid';

export interface LayerStack {
  /** Shows these layers, from the lowest; what was shown before stays until all of them that is in sight is there. */
  set(layers: readonly Layer[]): void;
  destroy(): void;
}

interface Held extends HeldLayer {
  readonly layer: Layer;
  item: OpenSeadragon.TiledImage | null;
  isGone: boolean;
}

/** Parts that failed are asked for again after so long: the server may be restarting. */
const AGAIN_MS = 2500;

function tileSource(layer: Layer): OpenSeadragon.TileSource {
  const maxLevel = topLevel(layer);
  const source = {
    width: layer.width,
    height: layer.height,
    tileSize: TILE_PX,
    minLevel: 0,
    maxLevel,
    getTileUrl(level: number, column: number, row: number): string {
      const { region, width, height } = tileAt(layer, level, column, row);
      return tileUrl(layer.id, region, `${width},${height}`, layer.versionAt(region, width));
    },
  };
  return source as unknown as OpenSeadragon.TileSource;
}

/**
 * @param onAppear called when a picture has come into the viewer
 * @param onLoaded called with what is wanted, once all of it that is in sight is there
 */
export function stackLayers(
  viewer: OpenSeadragon.Viewer,
  onAppear: () => void,
  onLoaded: (layers: readonly Layer[]) => void,
): LayerStack {
  let wanted: readonly Layer[] = [];
  /** From what was looked at longest ago to what is looked at now. */
  let held: Held[] = [];
  let isSettled = true;
  let isDestroyed = false;
  const renewing = new Set<Held>();

  const drop = (one: Held): void => {
    one.isGone = true;
    if (one.item) viewer.world.removeItem(one.item);
  };
  /** Puts what is wanted on top in its order; what was there before goes out of sight once all of it is loaded. */
  const arrange = (): void => {
    const plan = planLayers(held, wanted);
    for (const { layer, held: one } of plan.shown) if (one?.item) place(viewer, one.item, layer);
    if (!plan.shown.every((s) => s.held?.item?.getFullyLoaded())) return;
    for (const one of plan.hide) one.item?.setOpacity(0);
    plan.remove.forEach(drop);
    const shown = plan.shown.flatMap((s) => (s.held ? [s.held] : []));
    held = [...held.filter((h) => !h.isGone && !shown.includes(h)), ...shown];
    if (isSettled) return;
    isSettled = true;
    onLoaded(wanted);
  };
  const hold = (layer: Layer): void => {
    const one: Held = { id: layer.id, revision: layer.revision, layer, item: null, isGone: false };
    const isNewState = held.some((h) => h.id === layer.id);
    held.push(one);
    viewer.addTiledImage({
      tileSource: tileSource(layer),
      success: (event) => {
        const { item } = event as unknown as { item: OpenSeadragon.TiledImage };
        if (one.isGone) {
          viewer.world.removeItem(item);
          return;
        }
        one.item = item;
        // A picture that is new comes from coarse to fine. While an older state of it is looked at, what takes its place comes first.
        (item as unknown as { immediateRender: boolean }).immediateRender = isNewState;
        item.addHandler('fully-loaded-change', arrange);
        onAppear();
        arrange();
      },
    });
  };
  /** A layer some of whose tiles failed is made anew: what has been loaded is not loaded again. */
  const renewLater = ({ tiledImage }: { readonly tiledImage: OpenSeadragon.TiledImage }): void => {
    const failed = held.find((h) => h.item === tiledImage);
    if (!failed || failed.isGone || renewing.has(failed)) return;
    renewing.add(failed);
    window.setTimeout(() => {
      renewing.delete(failed);
      if (failed.isGone || isDestroyed) return;
      // Whatever stands for the same state later in the list is what is shown.
      if (wanted.some((layer) => layer.id === failed.id && layer.revision === failed.revision)) hold(failed.layer);
      else drop(failed);
      held = held.filter((h) => !h.isGone);
    }, AGAIN_MS);
  };
  viewer.addHandler('tile-load-failed', (event) => renewLater(event as { tiledImage: OpenSeadragon.TiledImage }));

  return {
    set(layers) {
      wanted = layers;
      isSettled = false;
      for (const { layer, held: one } of planLayers(held, layers).shown) if (!one) hold(layer);
      arrange();
      viewer.forceRedraw();
    },
    destroy: () => {
      isDestroyed = true;
    },
  };
}

/** Puts a picture on top, as its layer is to be shown. */
function place(
  viewer: OpenSeadragon.Viewer,
  item: OpenSeadragon.TiledImage,
  { opacity, clip, composite }: Layer,
): void {
  viewer.world.setItemIndex(item, viewer.world.getItemCount() - 1);
  item.setOpacity(opacity ?? 1);
  item.setClip(clip ? new OpenSeadragon.Rect(clip.x, clip.y, clip.width, clip.height) : null);
  item.setCompositeOperation(composite ?? 'source-over');
}
