// Luma, the undecimated binomial smoothing behind the focus bands, and sums over 4 × 4 blocks.

/** Luma of three planes with Rec. 709 weights; the planes follow each other. */
export function luma(rgb: usize, n: i32, dst: usize): void {
  const plane = <usize>n << 2;
  const end = <usize>(n & ~3) << 2;
  const wr = f32x4.splat(0.2126);
  const wg = f32x4.splat(0.7152);
  const wb = f32x4.splat(0.0722);
  let i: usize = 0;
  for (; i < end; i += 16) {
    let v = f32x4.mul(v128.load(rgb + i), wr);
    v = f32x4.add(v, f32x4.mul(v128.load(rgb + plane + i), wg));
    v = f32x4.add(v, f32x4.mul(v128.load(rgb + plane * 2 + i), wb));
    v128.store(dst + i, v);
  }
  for (; i < plane; i += 4) {
    const r = load<f32>(rgb + i);
    const g = load<f32>(rgb + plane + i);
    const b = load<f32>(rgb + plane * 2 + i);
    store<f32>(dst + i, <f32>0.2126 * r + <f32>0.7152 * g + <f32>0.0722 * b);
  }
}

@inline
function clamp(v: i32, hi: i32): i32 {
  return v < 0 ? 0 : v > hi ? hi : v;
}

/** One separable [1 2 1]/4 smoothing with taps `step` apart (edges repeated); tmp is a plane of the same size. */
export function binomial(src: usize, dst: usize, tmp: usize, w: i32, h: i32, step: i32): void {
  const half = f32x4.splat(0.5);
  const quarter = f32x4.splat(0.25);
  for (let y = 0; y < h; y++) {
    const up = src + (<usize>(clamp(y - step, h - 1) * w) << 2);
    const mid = src + (<usize>(y * w) << 2);
    const down = src + (<usize>(clamp(y + step, h - 1) * w) << 2);
    const out = tmp + (<usize>(y * w) << 2);
    const vecEnd = <usize>(w & ~3) << 2;
    const end = <usize>w << 2;
    let i: usize = 0;
    for (; i < vecEnd; i += 16) {
      const sides = f32x4.add(v128.load(up + i), v128.load(down + i));
      v128.store(out + i, f32x4.add(f32x4.mul(sides, quarter), f32x4.mul(v128.load(mid + i), half)));
    }
    for (; i < end; i += 4) {
      store<f32>(out + i, <f32>0.25 * (load<f32>(up + i) + load<f32>(down + i)) + <f32>0.5 * load<f32>(mid + i));
    }
  }
  const stepBytes = <usize>step << 2;
  for (let y = 0; y < h; y++) {
    const line = tmp + (<usize>(y * w) << 2);
    const out = dst + (<usize>(y * w) << 2);
    const inner = w - step;
    let x = 0;
    for (; x < step && x < w; x++) store<f32>(out + (<usize>x << 2), edge(line, x, w, step));
    for (; x + 4 <= inner; x += 4) {
      const p = line + (<usize>x << 2);
      const sides = f32x4.add(v128.load(p - stepBytes), v128.load(p + stepBytes));
      v128.store(out + (<usize>x << 2), f32x4.add(f32x4.mul(sides, quarter), f32x4.mul(v128.load(p), half)));
    }
    for (; x < w; x++) store<f32>(out + (<usize>x << 2), edge(line, x, w, step));
  }
}

@inline
function edge(line: usize, x: i32, w: i32, step: i32): f32 {
  const l = load<f32>(line + (<usize>clamp(x - step, w - 1) << 2));
  const r = load<f32>(line + (<usize>clamp(x + step, w - 1) << 2));
  return <f32>0.25 * (l + r) + <f32>0.5 * load<f32>(line + (<usize>x << 2));
}

/** Mean of (p − q)² over each whole 4 × 4 block; dst is (w / 4) × (h / 4). */
export function squaredDifference4(p: usize, q: usize, w: i32, h: i32, dst: usize): void {
  const bw = w >> 2;
  const bh = h >> 2;
  const stride = <usize>w << 2;
  for (let by = 0; by < bh; by++) {
    for (let bx = 0; bx < bw; bx++) {
      let at = <usize>(by << 2) * stride + (<usize>bx << 4);
      let sum = f32x4.splat(0);
      for (let k = 0; k < 4; k++) {
        const d = f32x4.sub(v128.load(p + at), v128.load(q + at));
        sum = f32x4.add(sum, f32x4.mul(d, d));
        at += stride;
      }
      store<f32>(dst, horizontal(sum) * <f32>0.0625);
      dst += 4;
    }
  }
}

/** Separable [1 2 3 2 1]/9 smoothing, edges repeated; tmp is a plane of the same size, dst may be src. */
export function tent(src: usize, dst: usize, tmp: usize, w: i32, h: i32): void {
  const c0 = f32x4.splat(<f32>(3.0 / 9.0));
  const c1 = f32x4.splat(<f32>(2.0 / 9.0));
  const c2 = f32x4.splat(<f32>(1.0 / 9.0));
  const vecEnd = <usize>(w & ~3) << 2;
  const end = <usize>w << 2;
  for (let y = 0; y < h; y++) {
    const a2 = src + (<usize>(clamp(y - 2, h - 1) * w) << 2);
    const a1 = src + (<usize>(clamp(y - 1, h - 1) * w) << 2);
    const mid = src + (<usize>(y * w) << 2);
    const b1 = src + (<usize>(clamp(y + 1, h - 1) * w) << 2);
    const b2 = src + (<usize>(clamp(y + 2, h - 1) * w) << 2);
    const out = tmp + (<usize>(y * w) << 2);
    let i: usize = 0;
    for (; i < vecEnd; i += 16) {
      let v = f32x4.mul(v128.load(mid + i), c0);
      v = f32x4.add(v, f32x4.mul(f32x4.add(v128.load(a1 + i), v128.load(b1 + i)), c1));
      v = f32x4.add(v, f32x4.mul(f32x4.add(v128.load(a2 + i), v128.load(b2 + i)), c2));
      v128.store(out + i, v);
    }
    for (; i < end; i += 4) {
      store<f32>(
        out + i,
        (<f32>3 * load<f32>(mid + i) +
          <f32>2 * (load<f32>(a1 + i) + load<f32>(b1 + i)) +
          (load<f32>(a2 + i) + load<f32>(b2 + i))) /
          <f32>9,
      );
    }
  }
  for (let y = 0; y < h; y++) {
    const line = tmp + (<usize>(y * w) << 2);
    const out = dst + (<usize>(y * w) << 2);
    let x = 0;
    for (; x < 2 && x < w; x++) store<f32>(out + (<usize>x << 2), tentEdge(line, x, w));
    for (; x + 6 <= w; x += 4) {
      const p = line + (<usize>x << 2);
      let v = f32x4.mul(v128.load(p), c0);
      v = f32x4.add(v, f32x4.mul(f32x4.add(v128.load(p - 4), v128.load(p + 4)), c1));
      v = f32x4.add(v, f32x4.mul(f32x4.add(v128.load(p - 8), v128.load(p + 8)), c2));
      v128.store(out + (<usize>x << 2), v);
    }
    for (; x < w; x++) store<f32>(out + (<usize>x << 2), tentEdge(line, x, w));
  }
}

@inline
function tentEdge(line: usize, x: i32, w: i32): f32 {
  const near =
    load<f32>(line + (<usize>clamp(x - 1, w - 1) << 2)) + load<f32>(line + (<usize>clamp(x + 1, w - 1) << 2));
  const far =
    load<f32>(line + (<usize>clamp(x - 2, w - 1) << 2)) + load<f32>(line + (<usize>clamp(x + 2, w - 1) << 2));
  return (<f32>3 * load<f32>(line + (<usize>x << 2)) + <f32>2 * near + far) / <f32>9;
}

/** Mean over each whole 4 × 4 block; dst is (w / 4) × (h / 4). */
export function mean4(p: usize, w: i32, h: i32, dst: usize): void {
  const bw = w >> 2;
  const bh = h >> 2;
  const stride = <usize>w << 2;
  for (let by = 0; by < bh; by++) {
    for (let bx = 0; bx < bw; bx++) {
      const at = p + <usize>(by << 2) * stride + (<usize>bx << 4);
      const top = f32x4.add(v128.load(at), v128.load(at + stride));
      const bottom = f32x4.add(v128.load(at + stride * 2), v128.load(at + stride * 3));
      store<f32>(dst, horizontal(f32x4.add(top, bottom)) * <f32>0.0625);
      dst += 4;
    }
  }
}

@inline
function horizontal(v: v128): f32 {
  return (
    f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3))
  );
}
