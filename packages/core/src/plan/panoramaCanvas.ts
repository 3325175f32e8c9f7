// The canvas of a panorama in each projection, and where its frames come to lie on it.

export const PROJECTIONS = ['flat', 'cylindrical', 'spherical', 'repositioned'] as const;
export type Projection = (typeof PROJECTIONS)[number];

/** Beyond this a flat picture stretches its edges without end. */
export const FLAT_LIMIT_DEG = 120;

const RAD = Math.PI / 180;

/**
 * Canvas of an angle in a projection: cylinder Φ·f/p × 2·tan(Θ/2)·f/p, flat 2·tan(Φ/2)·f/p × 2·tan(Θ/2)·f/p, sphere
 * Φ·f/p × Θ·f/p.
 * @param focalPx focal length over pixel pitch
 * @returns px, not rounded; null beyond what the projection can show (flat: 120°)
 */
export function canvasOf(
  projection: Exclude<Projection, 'repositioned'>,
  horizontalDeg: number,
  verticalDeg: number,
  focalPx: number,
): { readonly width: number; readonly height: number } | null {
  const arc = (deg: number): number => deg * RAD * focalPx;
  const flat = (deg: number): number => 2 * Math.tan((deg * RAD) / 2) * focalPx;
  if (projection === 'spherical') return { width: arc(horizontalDeg), height: arc(verticalDeg) };
  if (verticalDeg > FLAT_LIMIT_DEG) return null;
  if (projection === 'cylindrical') return { width: arc(horizontalDeg), height: flat(verticalDeg) };
  return horizontalDeg > FLAT_LIMIT_DEG ? null : { width: flat(horizontalDeg), height: flat(verticalDeg) };
}

/** Where the head points for a frame. */
export interface HeadPosition {
  readonly yawDeg: number;
  readonly pitchDeg: number;
}

/**
 * Place of a direction on a canvas, in focal lengths from the middle, y up.
 * @returns null where the projection does not reach
 */
export function projectDirection(
  projection: Exclude<Projection, 'repositioned'>,
  yawRad: number,
  pitchRad: number,
): readonly [number, number] | null {
  if (projection === 'spherical') return [yawRad, pitchRad];
  if (projection === 'cylindrical') return Math.abs(pitchRad) > 1.3 ? null : [yawRad, Math.tan(pitchRad)];
  if (Math.abs(yawRad) > 1.3) return null;
  return [Math.tan(yawRad), Math.tan(pitchRad) / Math.cos(yawRad)];
}

/**
 * Direction of a point of a frame.
 * @param x, y in focal lengths from the frame's middle, y up
 * @returns yaw and pitch, radians
 */
export function directionOf(head: HeadPosition, x: number, y: number): readonly [yawRad: number, pitchRad: number] {
  const tilt = head.pitchDeg * RAD;
  const forward = Math.cos(tilt) - y * Math.sin(tilt);
  const up = Math.sin(tilt) + y * Math.cos(tilt);
  return [head.yawDeg * RAD + Math.atan2(x, forward), Math.atan2(up, Math.hypot(x, forward))];
}

/**
 * Outline of a frame on the canvas.
 * @param halfWidth, halfHeight of the frame in focal lengths
 * @returns points in focal lengths from the canvas's middle, y up; empty when the projection does not reach the frame
 */
export function frameOutline(
  projection: Exclude<Projection, 'repositioned'>,
  head: HeadPosition,
  halfWidth: number,
  halfHeight: number,
): (readonly [number, number])[] {
  const perSide = 12;
  const corners = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ] as const;
  return corners.flatMap(([ax, ay], k) => {
    const [bx, by] = corners[(k + 1) % 4]!;
    return Array.from({ length: perSide }, (_, i) => {
      const t = i / perSide;
      const [yaw, pitch] = directionOf(head, halfWidth * (ax + t * (bx - ax)), halfHeight * (ay + t * (by - ay)));
      return projectDirection(projection, yaw, pitch);
    }).filter((p) => p !== null);
  });
}
