// Deep zoom over IIIF tiles (OpenSeadragon), with two canvases on top: marks, and the live preview of a stroke.
import OpenSeadragon from 'openseadragon';
import { tileUrl } from '../shared/api';

export interface PictureRegion {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** What the viewer shows: a picture by tile identifier, in a state that may differ from tile to tile. */
export interface ShownPicture {
  readonly id: string;
  readonly width: number;
  readonly height: number;
  /** Names the state of a part shown at `scale` picture px per tile px; parts whose name stays are not loaded again. */
  versionAt(region: PictureRegion, scale: number): string;
}

/** Where the picture lies on the screen: screen = (picture − origin) × zoom, CSS px. */
export interface ViewState {
  readonly originX: number;
  readonly originY: number;
  /** CSS px per picture px. */
  readonly zoom: number;
  readonly width: number;
  readonly height: number;
}

export interface DeepView {
  /** Shows a picture; the one before stays until the new one has its tiles. */
  show(picture: ShownPicture): void;
  view(): ViewState;
  /** Brings a picture region into view at `zoom` screen px per picture px (or fits it). */
  travelTo(region: PictureRegion, zoom: number | 'fit'): void;
  zoomBy(factor: number): void;
  fit(): void;
  /** Turns dragging with the main button on or off (off while painting). */
  setDragging(on: boolean): void;
  panBy(dx: number, dy: number): void;
  onChange(listener: () => void): () => void;
  /** Called when the picture has moved on the screen. */
  onMoved(listener: () => void): () => void;
  /** Called when a picture shown with a new version has all its tiles on screen. */
  onLoaded(listener: () => void): () => void;
  readonly marks: HTMLCanvasElement;
  readonly preview: HTMLCanvasElement;
  /** Pixels on screen now, without marks and preview. */
  grab(): HTMLCanvasElement;
  destroy(): void;
}

const TILE_PX = 512;

function tileSource(p: ShownPicture): object {
  const maxLevel = Math.max(0, Math.ceil(Math.log2(Math.max(p.width, p.height) / TILE_PX)));
  return {
    width: p.width,
    height: p.height,
    tileSize: TILE_PX,
    minLevel: 0,
    maxLevel,
    getTileUrl(level: number, column: number, row: number): string {
      const scale = 2 ** (maxLevel - level);
      const x = column * TILE_PX * scale;
      const y = row * TILE_PX * scale;
      const width = Math.min(TILE_PX * scale, p.width - x);
      const height = Math.min(TILE_PX * scale, p.height - y);
      const size = `${Math.max(1, Math.round(width / scale))},${Math.max(1, Math.round(height / scale))}`;
      const region = { x, y, width, height };
      return tileUrl(p.id, region, size, p.versionAt(region, scale));
    },
  };
}

/** How the viewer moves and loads. */
function viewerOptions(element: HTMLElement, calm: boolean): OpenSeadragon.Options {
  return {
    element,
    drawer: 'canvas',
    showNavigationControl: false,
    keyboardNavEnabled: false,
    animationTime: calm ? 0 : 0.35,
    blendTime: 0,
    maxZoomPixelRatio: 8,
    minZoomImageRatio: 0.6,
    visibilityRatio: 0.3,
    zoomPerScroll: 1.25,
    maxImageCacheCount: 600,
    imageLoaderLimit: 6,
    // Tiles that fail while the server restarts come once it is back.
    tileRetryMax: 30,
    tileRetryDelay: 2000,
    gestureSettingsMouse: { clickToZoom: false, dblClickToZoom: false },
    placeholderFillStyle: '#777777',
  };
}

/** Makes a viewer inside an element. */
export function createDeepView(element: HTMLElement): DeepView {
  const calm = window.matchMedia('(prefers-reduced-motion: reduce)').matches;
  const viewer = OpenSeadragon(viewerOptions(element, calm));
  const preview = overlayCanvas(element);
  const marks = overlayCanvas(element);
  const changed = new Set<() => void>();
  const loaded = new Set<() => void>();
  const moved = new Set<() => void>();
  let lastPlace = '';
  let size = { width: 1, height: 1 };
  let first = true;

  const fitCanvases = (): void => {
    const ratio = window.devicePixelRatio;
    for (const canvas of [preview, marks]) {
      const w = Math.round(element.clientWidth * ratio);
      const h = Math.round(element.clientHeight * ratio);
      if (canvas.width !== w || canvas.height !== h) Object.assign(canvas, { width: w, height: h });
    }
  };
  const tell = (): void => {
    fitCanvases();
    const place = JSON.stringify(viewer.viewport?.getBounds(true) ?? null);
    if (place !== lastPlace) for (const listener of moved) listener();
    lastPlace = place;
    for (const listener of changed) listener();
  };
  // Zoomed-out pictures are filtered: without it fine structure shimmers while the picture moves.
  viewer.addHandler('update-viewport', () => {
    const { context } = viewer.drawer as unknown as { readonly context?: CanvasRenderingContext2D };
    if (context) context.imageSmoothingQuality = 'high';
  });
  for (const name of ['animation', 'animation-finish', 'resize', 'open'] as const) viewer.addHandler(name, tell);

  return {
    marks,
    preview,
    show(picture) {
      size = picture;
      const before = Array.from({ length: viewer.world.getItemCount() }, (_, i) => viewer.world.getItemAt(i));
      viewer.addTiledImage({
        tileSource: tileSource(picture) as OpenSeadragon.TileSource,
        success: (event) => {
          if (first) {
            first = false;
            viewer.viewport.goHome(true);
          }
          const item = (event as unknown as { item: OpenSeadragon.TiledImage }).item;
          const settle = (): void => {
            if (!item.getFullyLoaded()) return;
            item.removeHandler('fully-loaded-change', settle);
            for (const old of before) viewer.world.removeItem(old);
            for (const listener of loaded) listener();
          };
          item.addHandler('fully-loaded-change', settle);
          settle();
          tell();
        },
      });
    },
    view() {
      const item = viewer.world.getItemAt(0) as OpenSeadragon.TiledImage | undefined;
      const width = element.clientWidth;
      const height = element.clientHeight;
      if (!item) return { originX: 0, originY: 0, zoom: 1, width, height };
      const bounds = viewer.viewport.getBounds(true);
      const zoom = width / (bounds.width * size.width);
      return { originX: bounds.x * size.width, originY: bounds.y * size.width, zoom, width, height };
    },
    travelTo(region, zoom) {
      const w = size.width;
      const cx = region.x + region.width / 2;
      const cy = region.y + region.height / 2;
      const fitted = Math.min(element.clientWidth / region.width, element.clientHeight / region.height) * 0.8;
      const scale = zoom === 'fit' ? fitted : Math.min(zoom, Math.max(fitted, 0.2));
      const width = element.clientWidth / scale / w;
      const height = element.clientHeight / scale / w;
      viewer.viewport.fitBounds(new OpenSeadragon.Rect(cx / w - width / 2, cy / w - height / 2, width, height), calm);
    },
    zoomBy: (factor) => void viewer.viewport.zoomBy(factor),
    fit: () => void viewer.viewport.goHome(),
    setDragging(on) {
      viewer.setMouseNavEnabled(true);
      (viewer as unknown as { panHorizontal: boolean; panVertical: boolean }).panHorizontal = on;
      (viewer as unknown as { panHorizontal: boolean; panVertical: boolean }).panVertical = on;
    },
    panBy(dx, dy) {
      const { zoom } = this.view();
      const w = size.width;
      viewer.viewport.panBy(new OpenSeadragon.Point(-dx / zoom / w, -dy / zoom / w), true);
    },
    onChange(listener) {
      changed.add(listener);
      return () => changed.delete(listener);
    },
    onMoved(listener) {
      moved.add(listener);
      return () => moved.delete(listener);
    },
    onLoaded(listener) {
      loaded.add(listener);
      return () => loaded.delete(listener);
    },
    grab: () => (viewer.drawer as unknown as { canvas: HTMLCanvasElement }).canvas,
    destroy() {
      viewer.destroy();
      preview.remove();
      marks.remove();
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
