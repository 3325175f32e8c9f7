// Means over square windows, by adding the window up: no running sums, so that rounding does not drift along a line.

/** Mean over a (2r+1)² window, at the border over the part inside; tmp is a plane of the same size. */
export function box(src: usize, dst: usize, tmp: usize, w: i32, h: i32, r: i32): void {
  for (let y = 0; y < h; y++) rowMeans(src + (<usize>(y * w) << 2), tmp + (<usize>(y * w) << 2), w, r);
  for (let y = 0; y < h; y++) {
    const from = y > r ? y - r : 0;
    const to = y + r < h ? y + r : h - 1;
    columnMeans(tmp + (<usize>(from * w) << 2), to - from + 1, dst + (<usize>(y * w) << 2), w);
  }
}

function rowMeans(line: usize, out: usize, w: i32, r: i32): void {
  let x = 0;
  for (; x < r && x < w; x++) store<f32>(out + (<usize>x << 2), cutMean(line, x, w, r));
  const count = 2 * r + 1;
  const share = <f32>1 / <f32>count;
  const shares = f32x4.splat(share);
  const reach = <usize>count << 2;
  for (; x + 4 <= w - r; x += 4) {
    const first = line + (<usize>(x - r) << 2);
    let sum = v128.load(first);
    for (let i: usize = 4; i < reach; i += 4) sum = f32x4.add(sum, v128.load(first + i));
    v128.store(out + (<usize>x << 2), f32x4.mul(sum, shares));
  }
  for (; x < w; x++) store<f32>(out + (<usize>x << 2), cutMean(line, x, w, r));
}

/** Mean around x over the part of the window that lies on the line. */
function cutMean(line: usize, x: i32, w: i32, r: i32): f32 {
  const from = x > r ? x - r : 0;
  const to = x + r < w ? x + r : w - 1;
  let sum: f32 = 0;
  for (let i = from; i <= to; i++) sum += load<f32>(line + (<usize>i << 2));
  const count = to - from + 1;
  return sum / <f32>count;
}

/** Means of `rows` lines that follow each other, column by column. */
function columnMeans(first: usize, rows: i32, out: usize, w: i32): void {
  const pitch = <usize>w << 2;
  const share = <f32>1 / <f32>rows;
  const shares = f32x4.splat(share);
  const end = first + pitch * <usize>rows;
  const vectors = <usize>(w & ~3) << 2;
  let x: usize = 0;
  for (; x < vectors; x += 16) {
    let sum = v128.load(first + x);
    for (let at = first + x + pitch; at < end; at += pitch) sum = f32x4.add(sum, v128.load(at));
    v128.store(out + x, f32x4.mul(sum, shares));
  }
  for (; x < pitch; x += 4) {
    let sum = load<f32>(first + x);
    for (let at = first + x + pitch; at < end; at += pitch) sum += load<f32>(at);
    store<f32>(out + x, sum * share);
  }
}
