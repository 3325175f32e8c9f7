// Blur by a uniform disc, the shape a defocused point takes behind a round aperture.

/** One channel, any scale. */
export interface Channel {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

/**
 * Averages over a disc of radius radiusPx(row), exact up to the straight-line approximation of the rim within a row.
 * Outside the channel all is 0 (channels hold premultiplied colour). Radii below a third of a pixel copy.
 * Cost: about 3 ns × (2r + 1) per sample.
 */
export function discBlur(channel: Channel, radiusPx: (row: number) => number): Float32Array {
  const { width, height, data } = channel;
  const stride = width + 1;
  const prefix = new Float64Array(stride * height);
  // Rows are often empty at either end: only what lies between is summed and blurred.
  const first = new Int32Array(height).fill(width);
  const last = new Int32Array(height).fill(-1);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let from = 0;
    let to = width - 1;
    while (from < width && data[row + from] === 0) from++;
    while (to > from && data[row + to] === 0) to--;
    if (from === width) continue;
    first[y] = from;
    last[y] = to;
    let sum = 0;
    const at = y * stride + 1;
    for (let x = from; x <= to; x++) {
      sum += data[row + x]!;
      prefix[at + x] = sum;
    }
    prefix.fill(sum, at + to + 1, at + width);
  }
  const out = new Float32Array(width * height);
  const line = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    const r = radiusPx(y);
    if (r < 0.34) {
      out.set(data.subarray(y * width, (y + 1) * width), y * width);
      continue;
    }
    const reach = Math.ceil(r - 0.5);
    const top = Math.max(0, y - reach);
    const bottom = Math.min(height - 1, y + reach);
    let [from, to] = [width, -1];
    for (let row = top; row <= bottom; row++) {
      if (first[row]! < from) from = first[row]!;
      if (last[row]! > to) to = last[row]!;
    }
    if (to < 0) continue;
    from = Math.max(0, from - reach - 1);
    to = Math.min(width, to + reach + 2);
    line.fill(0, from, to);
    for (let row = top; row <= bottom; row++) {
      if (last[row]! >= 0) addSpan(line, prefix, row * stride, width, halfWidth(r, row - y), from, to);
    }
    const scale = 1 / (Math.PI * r * r);
    const at = y * width;
    for (let x = from; x < to; x++) {
      const v = line[x]! * scale;
      // Differences of running sums may fall a rounding error below zero.
      out[at + x] = v > 0 ? v : 0;
    }
  }
  return out;
}

/** Mean half chord of the disc within the pixel row at offset k: area of the disc's strip / 2. */
function halfWidth(r: number, k: number): number {
  return (stripArea(r, k + 0.5) - stripArea(r, k - 0.5)) / 2;
}

/** Area of the disc below the line y = h. */
function stripArea(r: number, h: number): number {
  const t = Math.min(r, Math.max(-r, h));
  return t * Math.sqrt(r * r - t * t) + r * r * Math.asin(t / r) + (Math.PI * r * r) / 2;
}

function addSpan(
  line: Float64Array,
  prefix: Float64Array,
  start: number,
  width: number,
  half: number,
  x0: number,
  x1: number,
): void {
  // The span [x + .5 − half, x + .5 + half] in prefix coordinates; its fractional part is the same for all x.
  const low = 0.5 - half;
  const high = 0.5 + half;
  const l0 = Math.floor(low);
  const h0 = Math.floor(high);
  const lf = low - l0;
  const hf = high - h0;
  const end = start + width;
  const from = Math.min(x1, Math.max(x0, -l0));
  const to = Math.max(from, Math.min(x1, width - h0 - 1));
  for (let x = x0; x < from; x++) line[x] = line[x]! + spanAt(prefix, start, end, x, l0, h0, lf, hf);
  for (let x = from; x < to; x++) {
    const a = start + x + l0;
    const b = start + x + h0;
    const pa = prefix[a]!;
    const pb = prefix[b]!;
    line[x] = line[x]! + pb + hf * (prefix[b + 1]! - pb) - pa - lf * (prefix[a + 1]! - pa);
  }
  for (let x = to; x < x1; x++) line[x] = line[x]! + spanAt(prefix, start, end, x, l0, h0, lf, hf);
}

function spanAt(
  prefix: Float64Array,
  start: number,
  end: number,
  x: number,
  l0: number,
  h0: number,
  lf: number,
  hf: number,
): number {
  const at = (i: number): number => prefix[Math.min(end, Math.max(start, i))]!;
  const a = at(start + x + l0);
  const b = at(start + x + h0);
  return b + hf * (at(start + x + h0 + 1) - b) - a - lf * (at(start + x + l0 + 1) - a);
}
