// Deep zoom over IIIF tiles (OpenSeadragon): layers of pictures under one camera, and canvases over them.
import OpenSeadragon from 'openseadragon';
import { tileUrl } from '../shared/api';
import { constrained, fitting, type Camera, type PictureSize, type Place, zoomed } from './camera';
import { planLayers, type HeldLayer, type Layer } from './layers';
import { createOverlay, type Overlay } from './overlay';
import { TILE_PX, tileAt, topLevel } from './tileGrid';

export interface DeepView {
  /** Shows these layers, from the lowest; what was shown before stays until all of them that is in sight is there. */
  setLayers(layers: readonly Layer[]): void;
  /** Where the picture lies now; `aim` for where it will lie when it has come to rest. */
  camera(aim?: 'aim'): Camera;
  /** Moves the picture, no further than it may go. */
  setCamera(camera: Camera, how?: 'at once'): void;
  /** Zooms about a place of the screen; about the middle when left out. */
  zoomBy(factor: number, about?: Place): void;
  fit(): void;
  /** Called when the picture moves or appears, or the pane has another size. */
  onChange(listener: () => void): () => void;
  /** Called with the layers that are wanted, whenever all of them that is in sight has been loaded. */
  onLoaded(listener: (layers: readonly Layer[]) => void): () => void;
  /** What is drawn over the picture, from the lowest: strokes on their way, marks, and what follows the pointer. */
  readonly overlays: { readonly preview: Overlay; readonly marks: Overlay; readonly front: Overlay };
  destroy(): void;
}

interface Held extends HeldLayer {
  readonly layer: Layer;
  item: OpenSeadragon.TiledImage | null;
  isGone: boolean;
}

/** Tiles kept, of 1 MB each on the screen. */
const MOST_TILES = 180;
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

/** How the viewer loads; moving is ours. */
function viewerOptions(element: HTMLElement): OpenSeadragon.Options {
  return {
    element,
    drawer: 'canvas',
    showNavigationControl: false,
    keyboardNavEnabled: false,
    mouseNavEnabled: false,
    animationTime: 0.25,
    blendTime: 0,
    maxZoomPixelRatio: Infinity,
    minZoomImageRatio: 0,
    visibilityRatio: 0,
    maxImageCacheCount: MOST_TILES,
    imageLoaderLimit: 6,
    tileRetryMax: 0,
    placeholderFillStyle: '#777777',
  };
}

/** Whether movement is to be left out: asked each time, as it may be changed while the page is open. */
function isCalm(): boolean {
  return window.matchMedia('(prefers-reduced-motion: reduce)').matches;
}

/** Makes a viewer inside an element. */
export function createDeepView(element: HTMLElement): DeepView {
  const viewer = OpenSeadragon(viewerOptions(element));
  const canvases = [overlayCanvas(element), overlayCanvas(element), overlayCanvas(element)] as const;
  const changed = new Set<() => void>();
  const loaded = new Set<(layers: readonly Layer[]) => void>();
  let size: PictureSize = { width: 1, height: 1 };
  let wanted: readonly Layer[] = [];
  /** From what was looked at longest ago to what is looked at now. */
  let held: Held[] = [];
  let isSettled = true;
  let isFirst = true;

  const camera = (aim?: 'aim'): Camera => {
    const pane = { width: element.clientWidth, height: element.clientHeight };
    if (viewer.world.getItemCount() === 0) return { originX: 0, originY: 0, zoom: 1, ...pane };
    const bounds = viewer.viewport.getBounds(aim === undefined);
    const zoom = pane.width / (bounds.width * size.width);
    return { originX: bounds.x * size.width, originY: bounds.y * size.width, zoom, ...pane };
  };
  const place = (at: Camera, atOnce: boolean): void => {
    const { originX, originY, zoom, width, height } = constrained(at, size);
    const unit = size.width;
    const rect = new OpenSeadragon.Rect(originX / unit, originY / unit, width / zoom / unit, height / zoom / unit);
    viewer.viewport.fitBounds(rect, atOnce || isCalm());
  };
  const [preview, marks, front] = canvases.map((canvas) => createOverlay(canvas, camera)) as [
    Overlay,
    Overlay,
    Overlay,
  ];
  const overlays = { preview, marks, front };

  const tell = (): void => {
    const ratio = window.devicePixelRatio;
    for (const canvas of canvases) {
      const w = Math.round(element.clientWidth * ratio);
      const h = Math.round(element.clientHeight * ratio);
      if (canvas.width !== w || canvas.height !== h) Object.assign(canvas, { width: w, height: h });
    }
    for (const overlay of Object.values(overlays)) overlay.changed();
    for (const listener of changed) listener();
  };
  const drop = (one: Held): void => {
    one.isGone = true;
    if (one.item) viewer.world.removeItem(one.item);
  };
  /** Puts what is wanted on top in its order; what was there before goes out of sight once all of it is loaded. */
  const arrange = (): void => {
    const plan = planLayers(held, wanted);
    for (const { layer, held: one } of plan.shown) {
      if (!one?.item) continue;
      viewer.world.setItemIndex(one.item, viewer.world.getItemCount() - 1);
      one.item.setOpacity(layer.opacity ?? 1);
      const { clip } = layer;
      one.item.setClip(clip ? new OpenSeadragon.Rect(clip.x, clip.y, clip.width, clip.height) : null);
      one.item.setCompositeOperation(layer.composite ?? 'source-over');
    }
    const isThere = plan.shown.every((s) => s.held?.item?.getFullyLoaded());
    if (!isThere) return;
    for (const one of plan.hide) one.item?.setOpacity(0);
    plan.remove.forEach(drop);
    const shown = plan.shown.flatMap((s) => (s.held ? [s.held] : []));
    held = [...held.filter((h) => !h.isGone && !shown.includes(h)), ...shown];
    if (isSettled) return;
    isSettled = true;
    for (const listener of loaded) listener(wanted);
  };
  const hold = (layer: Layer): void => {
    const one: Held = { id: layer.id, revision: layer.revision, layer, item: null, isGone: false };
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
        item.addHandler('fully-loaded-change', arrange);
        if (isFirst) {
          isFirst = false;
          place(fitting(camera(), size), true);
        }
        arrange();
        tell();
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
  const renewing = new Set<Held>();
  let isDestroyed = false;

  // Zoomed-out pictures are filtered: without it fine structure shimmers while the picture moves. At full size there is nothing to filter,
  // and filtering costs several frames where no graphics card does it.
  viewer.addHandler('update-viewport', () => {
    const { context } = viewer.drawer as unknown as { readonly context?: CanvasRenderingContext2D };
    const isReduced = camera().zoom * window.devicePixelRatio < 0.99;
    if (context) context.imageSmoothingQuality = isReduced ? 'medium' : 'low';
  });
  viewer.addHandler('tile-load-failed', (event) => renewLater(event as { tiledImage: OpenSeadragon.TiledImage }));
  for (const name of ['animation', 'animation-finish', 'resize', 'open'] as const) viewer.addHandler(name, tell);

  return {
    overlays,
    camera,
    setLayers(layers) {
      wanted = layers;
      isSettled = false;
      if (layers[0]) size = layers[0];
      for (const { layer, held: one } of planLayers(held, layers).shown) if (!one) hold(layer);
      arrange();
      viewer.forceRedraw();
    },
    setCamera: (at, how) => place(at, how === 'at once'),
    zoomBy(factor, about) {
      const at = camera('aim');
      place(zoomed(at, factor, about ?? { x: at.width / 2, y: at.height / 2 }), false);
    },
    fit: () => place(fitting(camera(), size), false),
    onChange(listener) {
      changed.add(listener);
      return () => changed.delete(listener);
    },
    onLoaded(listener) {
      loaded.add(listener);
      return () => loaded.delete(listener);
    },
    destroy() {
      isDestroyed = true;
      for (const overlay of Object.values(overlays)) overlay.destroy();
      viewer.destroy();
      canvases.forEach((canvas) => canvas.remove());
    },
  };
}

function overlayCanvas(element: HTMLElement): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  Object.assign(canvas.style, {
    position: 'absolute',
    inset: '0',
    width: '100%',
    height: '100%',
    pointerEvents: 'none',
  });
  element.append(canvas);
  return canvas;
}
