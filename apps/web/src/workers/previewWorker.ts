// The preview of strokes beside the page's own thread: fetches tiles, lays masks, sends back the pixels that changed.
import type { TilePixels } from '../viewer/preview/composeTile';
import type { FromPreview, ToPreview } from '../viewer/preview/messages';
import { makePreview } from '../viewer/preview/previewModel';

interface WorkerScope {
  onmessage: ((event: MessageEvent<ToPreview>) => void) | null;
  postMessage(message: FromPreview, transfer: Transferable[]): void;
}

const scope = self as unknown as WorkerScope;

/** Decoded pictures by address: base and donor of what is in sight, 1 MB each. */
const MOST_KEPT = 64;
const kept = new Map<string, Promise<TilePixels>>();

function load(url: string): Promise<TilePixels> {
  const known = kept.get(url);
  const pixels = known ?? read(url);
  // The one asked for last goes last.
  kept.delete(url);
  kept.set(url, pixels);
  if (!known) pixels.catch(() => kept.delete(url));
  const [oldest] = kept.keys();
  if (kept.size > MOST_KEPT && oldest !== undefined) kept.delete(oldest);
  return pixels;
}

async function read(url: string): Promise<TilePixels> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error(`${url}: ${answer.status}`);
  const bitmap = await createImageBitmap(await answer.blob());
  const { width, height } = bitmap;
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  return context.getImageData(0, 0, width, height).data;
}

const model = makePreview(load, (message) => {
  scope.postMessage(message, message.kind === 'patch' ? [message.patch.data.buffer] : []);
});
scope.onmessage = ({ data }) => model.receive(data);
