// Angles of view. Degrees at the border, as people speak of them.

const RAD = Math.PI / 180;

/** 2·atan(side/2f): angle that a side of the frame sees, degrees. */
export function fieldOfViewDeg(sideMm: number, focalLengthMm: number): number {
  return (2 * Math.atan(sideMm / (2 * focalLengthMm))) / RAD;
}

/**
 * Frames along a row: ⌈(Φ − φ)/(φ·(1 − overlap))⌉ + 1; a full turn closes on itself and has no ends: ⌈360/(φ·(1 − overlap))⌉.
 * @param wantedDeg Φ, more than 0 to 360
 * @param frameDeg φ of one frame
 * @param overlap share of a frame, 0 to less than 1
 */
export function framesAlong(wantedDeg: number, frameDeg: number, overlap: number): number {
  const step = frameDeg * (1 - overlap);
  // An angle that is a whole number of steps must not cost one more by rounding.
  const steps = (deg: number): number => Math.ceil(deg / step - 1e-9);
  if (wantedDeg >= 360) return Math.max(1, steps(360));
  return wantedDeg <= frameDeg ? 1 : steps(wantedDeg - frameDeg) + 1;
}
