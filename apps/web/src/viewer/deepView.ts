// Deep zoom over IIIF tiles (OpenSeadragon): layers of pictures under one camera, and canvases over them.
import OpenSeadragon from 'openseadragon';
import { constrained, fitting, type Camera, type PictureSize, type Place, zoomed } from './camera';
import type { Layer } from './layers';
import { stackLayers } from './layerStack';
import { createOverlay, type Overlay } from './overlay';

export interface DeepView {
  /** Shows these layers, from the lowest; what was shown before stays until all of them that is in sight is there. */
  setLayers(layers: readonly Layer[]): void;
  /** Shows the picture so many times as bright. */
  setGain(gain: number): void;
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

/** Tiles kept, of 1 MB each on the screen. */
const MOST_TILES = 180;
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
  const appear = (): void => {
    if (isFirst) place(fitting(camera(), size), true);
    isFirst = false;
    tell();
  };
  const stack = stackLayers(viewer, appear, (layers) => loaded.forEach((listener) => listener(layers)));

  // Zoomed-out pictures are filtered: without it fine structure shimmers while the picture moves. At full size there is nothing to filter,
  // and filtering costs several frames where no graphics card does it.
  viewer.addHandler('update-viewport', () => {
    const { context } = viewer.drawer as unknown as { readonly context?: CanvasRenderingContext2D };
    const isReduced = camera().zoom * window.devicePixelRatio < 0.99;
    if (context) context.imageSmoothingQuality = isReduced ? 'medium' : 'low';
  });
  for (const name of ['animation', 'animation-finish', 'resize', 'open'] as const) viewer.addHandler(name, tell);

  return {
    overlays,
    camera,
    setLayers(layers) {
      if (layers[0]) size = layers[0];
      stack.set(layers);
    },
    setGain(gain) {
      viewer.canvas.style.filter = gain === 1 ? '' : `brightness(${gain})`;
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
      stack.destroy();
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
