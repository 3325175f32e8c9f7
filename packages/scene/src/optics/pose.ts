// Where the camera stands and looks: rotations, positions, and the views that follow.

export type Vec3 = readonly [number, number, number];
/** Row-major. */
export type Mat3 = readonly [number, number, number, number, number, number, number, number, number];

/** Rotation from the world (x right, y down, z forward) into the camera: yaw to the right, then pitch up, then roll. */
export function rotationOf(yawRad: number, pitchRad: number, rollRad: number): Mat3 {
  const [cy, sy] = [Math.cos(yawRad), Math.sin(yawRad)];
  const [cp, sp] = [Math.cos(pitchRad), Math.sin(pitchRad)];
  const [cr, sr] = [Math.cos(rollRad), Math.sin(rollRad)];
  const yaw: Mat3 = [cy, 0, -sy, 0, 1, 0, sy, 0, cy];
  const pitch: Mat3 = [1, 0, 0, 0, cp, sp, 0, -sp, cp];
  const roll: Mat3 = [cr, sr, 0, -sr, cr, 0, 0, 0, 1];
  return multiply(roll, multiply(pitch, yaw));
}

export function multiply(a: Mat3, b: Mat3): Mat3 {
  const at = (r: number, c: number): number =>
    a[3 * r]! * b[c]! + a[3 * r + 1]! * b[3 + c]! + a[3 * r + 2]! * b[6 + c]!;
  return [at(0, 0), at(0, 1), at(0, 2), at(1, 0), at(1, 1), at(1, 2), at(2, 0), at(2, 1), at(2, 2)];
}

/** For a rotation also its inverse. */
export function transpose(m: Mat3): Mat3 {
  return [m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]];
}

export function apply(m: Mat3, x: number, y: number, z: number): [number, number, number] {
  return [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z];
}

/**
 * Position of the entrance pupil when the camera turns about an axis that lies behind it.
 * @param offsetMm distance from turning axis to pupil, 0 when the head turns about the pupil
 */
export function pupilPosition(rotation: Mat3, offsetMm: number): Vec3 {
  const forward = apply(transpose(rotation), 0, 0, offsetMm);
  return [forward[0], forward[1], forward[2] - offsetMm];
}
