// A thing in front of the camera: where it is, how deep, and how it looks.

/** Colour proportional to light and coverage, written by a layer's shader. */
export interface Shade {
  r: number;
  g: number;
  b: number;
  /** Coverage 0..1. */
  a: number;
}

export interface Box {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** A plane by its inverse distance, which is linear in apparent position: 1/d = at + slope · (y − y0). */
export interface InversePlane {
  /** 1/mm at y0. */
  readonly at: number;
  /** 1/mm per scene unit. */
  readonly slope: number;
  readonly y0: number;
}

/**
 * A flat thing in the scene. Positions are where it appears from the world's own viewpoint: x to the right, y down, in scene
 * units (see World).
 */
export interface Layer {
  readonly name: string;
  readonly plane: InversePlane;
  /** Nothing is outside it, at any time. */
  readonly box: Box;
  /** The box at one time, of things that move. */
  readonly boxAt?: (timeS: number) => Box;
  /** How things on it move: a thing that can be caught twice, or a texture such as waves. Still when left out. */
  readonly motion?: { readonly kind: 'object' | 'texture'; readonly unitsPerS: number };
  /** Writes colour at a point; `pixel` is the size of a picture pixel in scene units, the same for all frames of a set. */
  shade(x: number, y: number, pixel: number, out: Shade, timeS: number): void;
}

/** A world: things from far to near as seen from its own viewpoint, which looks along z. */
export interface World {
  readonly name: string;
  readonly seed: number;
  /** From far to near. */
  readonly layers: readonly Layer[];
  /** Scene position of the optical axis of the world's own viewpoint. */
  readonly centre: readonly [number, number];
  /** Nearest and farthest subject, mm. */
  readonly nearMm: number;
  readonly farMm: number;
}

/** A plane that faces the viewpoint. */
export function facing(depthMm: number): InversePlane {
  return { at: 1 / depthMm, slope: 0, y0: 0 };
}

/** A plane at depthMm where y = y0, whose depth there changes by leanMm per scene unit downwards. */
export function leaning(depthMm: number, leanMm: number, y0: number): InversePlane {
  return { at: 1 / depthMm, slope: -leanMm / depthMm ** 2, y0 };
}

/** Level ground below the viewpoint; scene units must be tangents. The horizon is at y = 0. */
export function levelGround(eyeHeightMm: number): InversePlane {
  return { at: 0, slope: 1 / eyeHeightMm, y0: 0 };
}

/** Distance along the viewing axis in mm; Infinity at and above a horizon. */
export function depthAt(layer: { readonly plane: InversePlane }, y: number): number {
  const { at, slope, y0 } = layer.plane;
  const inverse = at + slope * (y - y0);
  return inverse > 0 ? 1 / inverse : Infinity;
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

/** Signed distance to a box with rounded corners, in scene units; negative inside. */
export function boxDistance(x: number, y: number, halfWidth: number, halfHeight: number, corner: number): number {
  const dx = Math.abs(x) - halfWidth + corner;
  const dy = Math.abs(y) - halfHeight + corner;
  return Math.hypot(Math.max(dx, 0), Math.max(dy, 0)) + Math.min(Math.max(dx, dy), 0) - corner;
}

/** Makes a colour darker (< 1) or lighter. */
export function dim(out: Shade, light: number): void {
  out.r *= light;
  out.g *= light;
  out.b *= light;
}

/** Lays a colour over what is there, by share. */
export function tint(out: Shade, r: number, g: number, b: number, share: number): void {
  out.r = mix(out.r, r, share);
  out.g = mix(out.g, g, share);
  out.b = mix(out.b, b, share);
}
