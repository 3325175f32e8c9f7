// What is drawn over a picture: a stack of things that draw, each told where the picture lies, all of them in one animation frame.
import type { Camera } from './camera';

/** Draws in CSS px of the pane; the context is fresh for each. */
export type Draw = (context: CanvasRenderingContext2D, camera: Camera) => void;

export interface Drawing {
  /** Asks for the overlay to be drawn anew. */
  changed(): void;
  remove(): void;
}

export interface Overlay {
  /** Adds something that draws, over what is there. */
  add(draw: Draw): Drawing;
  /** The picture has moved, or the pane has another size. */
  changed(): void;
  destroy(): void;
}

/**
 * @param frame asks for an animation frame; the browser's own when left out
 */
export function createOverlay(
  canvas: HTMLCanvasElement,
  camera: () => Camera,
  frame: (run: () => void) => number = requestAnimationFrame,
): Overlay {
  const stack: Draw[] = [];
  let asked = false;
  let gone = false;
  const draw = (): void => {
    asked = false;
    if (gone) return;
    const now = camera();
    const context = canvas.getContext('2d')!;
    const ratio = canvas.width / Math.max(1, now.width);
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, canvas.width, canvas.height);
    for (const one of stack) {
      context.save();
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      one(context, now);
      context.restore();
    }
  };
  const changed = (): void => {
    if (asked || gone) return;
    asked = true;
    frame(draw);
  };
  return {
    add(one) {
      stack.push(one);
      changed();
      return {
        changed,
        remove: () => {
          const at = stack.indexOf(one);
          if (at >= 0) stack.splice(at, 1);
          changed();
        },
      };
    },
    changed,
    destroy: () => {
      gone = true;
    },
  };
}
