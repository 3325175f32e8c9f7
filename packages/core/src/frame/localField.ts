// Small local shifts of a frame beyond its view: what parallax and drift left, on a coarse grid.

/** Shifts at the middles of equal cells over a frame, row by row, px of the frame; bilinear between, straight on to the frame's edges, constant outside. */
export interface LocalField {
  readonly columns: number;
  readonly rows: number;
  readonly width: number;
  readonly height: number;
  readonly dx: readonly number[];
  readonly dy: readonly number[];
}

/** The shift at a place of the frame, px. */
export function localShiftAt(
  { columns, rows, width, height, dx, dy }: LocalField,
  x: number,
  y: number,
): [number, number] {
  const u = columns > 1 ? Math.min(1, Math.max(0, x / width)) * columns - 0.5 : 0;
  const v = rows > 1 ? Math.min(1, Math.max(0, y / height)) * rows - 0.5 : 0;
  const i = Math.min(Math.max(0, columns - 2), Math.max(0, Math.floor(u)));
  const j = Math.min(Math.max(0, rows - 2), Math.max(0, Math.floor(v)));
  const [s, t] = [u - i, v - j];
  const at = j * columns + i;
  const right = columns > 1 ? 1 : 0;
  const below = rows > 1 ? columns : 0;
  const [a, b, c, d] = [(1 - s) * (1 - t), s * (1 - t), (1 - s) * t, s * t];
  const mix = (f: readonly number[]): number =>
    a * f[at]! + b * f[at + right]! + c * f[at + below]! + d * f[at + below + right]!;
  return [mix(dx), mix(dy)];
}
