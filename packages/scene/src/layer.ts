// A thing in front of the camera: where it is, how deep, and how it looks.

/** Colour proportional to light and coverage, written by a layer's shader. */
export interface Shade {
  r: number;
  g: number;
  b: number;
  /** Coverage 0..1. */
  a: number;
}

/**
 * A flat thing in the scene. Positions are in picture widths (x to the right 0..1, y down 0..height/width) as seen with
 * the reference magnification; depth may lean along y.
 */
export interface Layer {
  readonly name: string;
  /** Distance from the lens in mm at y = yMid. */
  readonly depthMm: number;
  /** Change of distance in mm per picture width along y. */
  readonly leanMm: number;
  readonly yMid: number;
  readonly box: { readonly x0: number; readonly y0: number; readonly x1: number; readonly y1: number };
  /** Writes colour at a point; `pixel` is the size of a picture pixel in picture widths. */
  shade(x: number, y: number, pixel: number, out: Shade): void;
}

export function depthAt(layer: Layer, y: number): number {
  return layer.depthMm + layer.leanMm * (y - layer.yMid);
}

/** 1 inside (d < 0), 0 outside, antialiased over one pixel. */
export function coverage(distance: number, pixel: number): number {
  const t = 0.5 - distance / pixel;
  return t < 0 ? 0 : t > 1 ? 1 : t;
}

export function mix(a: number, b: number, t: number): number {
  return a + (b - a) * t;
}

export function smooth(low: number, high: number, v: number): number {
  const t = Math.min(1, Math.max(0, (v - low) / (high - low)));
  return t * t * (3 - 2 * t);
}
