// The keyboard's pointer: a cross that arrows move over the picture; the picture follows where it would leave the pane.
import { keepingInSight, toPicture, type Camera, type PictureSize, type Place } from './camera';

export type CrossStep =
  | { readonly kind: 'move'; readonly at: Place; readonly camera: Camera | null }
  | { readonly kind: 'press'; readonly at: Place };

/** What of a key event counts. */
export interface CrossKey {
  readonly key: string;
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
}

const STEP_PX = 12;
const FINE_STEP_PX = 1;
/** The cross is kept so far inside the pane. */
const MARGIN_PX = 40;

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * @param at where the cross, or the pointer before it, is; null for nowhere: then it begins in the middle of the pane
 * @returns null for keys that are not the cross's
 */
export function moveCross(key: CrossKey, at: Place | null, camera: Camera, picture: PictureSize): CrossStep | null {
  if (key.ctrlKey || key.metaKey || key.altKey) return null;
  const onPicture = ({ x, y }: Place): Place => ({
    x: Math.min(picture.width - 1, Math.max(0, x)),
    y: Math.min(picture.height - 1, Math.max(0, y)),
  });
  const from = onPicture(at ?? toPicture(camera, { x: camera.width / 2, y: camera.height / 2 }));
  if (key.key === ' ' || key.key === 'Enter') return { kind: 'press', at: from };
  const arrow = ARROWS[key.key];
  if (!arrow) return null;
  const step = (key.shiftKey ? FINE_STEP_PX : STEP_PX) / camera.zoom;
  const to = onPicture({ x: from.x + step * arrow[0], y: from.y + step * arrow[1] });
  const following = keepingInSight(camera, to, MARGIN_PX);
  const moves = following.originX !== camera.originX || following.originY !== camera.originY;
  return { kind: 'move', at: to, camera: moves ? following : null };
}
