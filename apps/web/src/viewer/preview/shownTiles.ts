// What the preview worker has sent, as canvases in picture coordinates, drawn over the picture.
import { union, type PictureRegion } from '../camera';
import type { Overlay } from '../overlay';
import type { FromPreview } from './messages';

export interface ShownTiles {
  /** Says where a tile of the worker lies. */
  place(key: string, region: PictureRegion, level: number): void;
  /** Takes in what the worker says of one. */
  receive(message: FromPreview): void;
  /** The level that is worked on lies on top. */
  setLevel(level: number): void;
  setVisible(visible: boolean): void;
  remove(): void;
}

interface ShownTile {
  readonly canvas: OffscreenCanvas;
  /** Part of the picture, picture px. */
  readonly place: PictureRegion;
  readonly level: number;
  /** The part of the canvas on which something is. */
  shown: PictureRegion;
}

export function showTiles(overlay: Overlay): ShownTiles {
  const tiles = new Map<string, ShownTile>();
  const places = new Map<string, { readonly place: PictureRegion; readonly level: number }>();
  let isVisible = true;
  let level = 0;
  const drawing = overlay.add((context, camera) => {
    if (!isVisible) return;
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
  return {
    place: (key, region, at) => void places.set(key, { place: region, level: at }),
    receive(message) {
      if (message.kind === 'gone') tiles.delete(message.key);
      else {
        const where = places.get(message.key);
        if (!where) return;
        const { width, height, patch, isAll } = message;
        const tile = tiles.get(message.key) ?? { canvas: new OffscreenCanvas(width, height), ...where, shown: patch };
        tiles.set(message.key, tile);
        const context = tile.canvas.getContext('2d')!;
        if (isAll) context.clearRect(0, 0, width, height);
        context.putImageData(new ImageData(patch.data, patch.width, patch.height), patch.x, patch.y);
        tile.shown = isAll ? patch : union(tile.shown, patch);
      }
      drawing.changed();
    },
    setLevel: (to) => {
      level = to;
    },
    setVisible(visible) {
      isVisible = visible;
      drawing.changed();
    },
    remove: () => drawing.remove(),
  };
}
