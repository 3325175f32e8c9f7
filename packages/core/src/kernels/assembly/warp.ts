// Resampling. Colour, which ends in merges, by Lanczos' kernel of six taps (C. E. Duchon, J. Applied Meteorology 18, 1979), normalised
// to a sum of 1, each tap a quintic in the fraction t that is off by 1.3e-4 at most: half a px between samples it keeps 86 % of a wave of
// 0.35 cycles per px, where Keys' cubic keeps 63 %. Luma, by which pictures are compared, by Keys' cubic convolution, a = -0.5
// (R. G. Keys, IEEE ASSP 29(6), 1981), which takes half the time.

/**
 * Samples an RGBA float picture at affine positions into four planes (R, G, B, valid).
 * (a, b, c, d, e, f) maps a destination pixel centre to source coordinates with pixel centres at .5.
 * Outside the source the edge is repeated and valid is 0.
 */
export function warpFine(
  src: usize, sw: i32, sh: i32, dst: usize, dw: i32, dh: i32,
  a: f64, b: f64, c: f64, d: f64, e: f64, f: f64,
): void {
  const plane = <usize>(dw * dh) << 2;
  const rowBytes = <usize>sw << 4;
  const maxX = sw - 1;
  const maxY = sh - 1;
  for (let y = 0; y < dh; y++) {
    const py = <f64>y + 0.5;
    const startX = b * py + c + 0.5 * a - 0.5;
    const startY = e * py + f + 0.5 * d - 0.5;
    let out = dst + (<usize>(y * dw) << 2);
    for (let x = 0; x < dw; x++, out += 4) {
      const sx = a * <f64>x + startX;
      const sy = d * <f64>x + startY;
      sampleFine(src, rowBytes, maxX, maxY, sx, sy, 1, out, plane);
    }
  }
}

/** One destination pixel of warpFine: four planes from (sx, sy), lifted (see warpGrid). */
@inline
function sampleFine(
  src: usize, rowBytes: usize, maxX: i32, maxY: i32, sx: f64, sy: f64, lift: f32, out: usize, plane: usize,
): void {
  const fx = floor<f64>(sx);
  const fy = floor<f64>(sy);
  const ix = <i32>fx;
  const iy = <i32>fy;
  const tx = <f32>(sx - fx);
  const ty = <f32>(sy - fy);
  const wx = firstTaps(tx);
  const vx = lastTaps(tx);
  const wy = firstTaps(ty);
  const vy = lastTaps(ty);
  const x0 = lane0(wx);
  const x1 = lane1(wx);
  const x2 = lane2(wx);
  const x3 = lane3(wx);
  const x4 = lane0(vx);
  const x5 = lane1(vx);
  let acc: v128;
  let inside: f32 = 1;
  if (ix >= 2 && iy >= 2 && ix + 3 <= maxX && iy + 3 <= maxY) {
    const p = src + <usize>(iy - 2) * rowBytes + (<usize>(ix - 2) << 4);
    const q = p + rowBytes * 2;
    const r = q + rowBytes * 2;
    acc = f32x4.add(
      f32x4.add(
        f32x4.add(f32x4.mul(row(p, x0, x1, x2, x3, x4, x5), lane0(wy)), f32x4.mul(row(p + rowBytes, x0, x1, x2, x3, x4, x5), lane1(wy))),
        f32x4.add(f32x4.mul(row(q, x0, x1, x2, x3, x4, x5), lane2(wy)), f32x4.mul(row(q + rowBytes, x0, x1, x2, x3, x4, x5), lane3(wy))),
      ),
      f32x4.add(f32x4.mul(row(r, x0, x1, x2, x3, x4, x5), lane0(vy)), f32x4.mul(row(r + rowBytes, x0, x1, x2, x3, x4, x5), lane1(vy))),
    );
  } else {
    const o0 = <usize>clamp(ix - 2, maxX) << 4;
    const o1 = <usize>clamp(ix - 1, maxX) << 4;
    const o2 = <usize>clamp(ix, maxX) << 4;
    const o3 = <usize>clamp(ix + 1, maxX) << 4;
    const o4 = <usize>clamp(ix + 2, maxX) << 4;
    const o5 = <usize>clamp(ix + 3, maxX) << 4;
    acc = f32x4.splat(0);
    for (let k = 0; k < 6; k++) {
      const p = src + <usize>clamp(iy - 2 + k, maxY) * rowBytes;
      let r = f32x4.mul(v128.load(p + o0), x0);
      r = f32x4.add(r, f32x4.mul(v128.load(p + o1), x1));
      r = f32x4.add(r, f32x4.mul(v128.load(p + o2), x2));
      r = f32x4.add(r, f32x4.mul(v128.load(p + o3), x3));
      r = f32x4.add(r, f32x4.mul(v128.load(p + o4), x4));
      r = f32x4.add(r, f32x4.mul(v128.load(p + o5), x5));
      const w = k == 0 ? lane0(wy) : k == 1 ? lane1(wy) : k == 2 ? lane2(wy) : k == 3 ? lane3(wy) : k == 4 ? lane0(vy) : lane1(vy);
      acc = f32x4.add(acc, f32x4.mul(r, w));
    }
    if (sx < -0.5 || sy < -0.5 || sx > <f64>maxX + 0.5 || sy > <f64>maxY + 0.5) inside = 0;
  }
  if (lift != 1) acc = f32x4.sub(f32x4.mul(f32x4.add(acc, f32x4.splat(0.055)), f32x4.splat(lift)), f32x4.splat(0.055));
  v128.store_lane<f32>(out, acc, 0);
  v128.store_lane<f32>(out + plane, acc, 1);
  v128.store_lane<f32>(out + plane * 2, acc, 2);
  store<f32>(out + plane * 3, inside);
}

/** Pixels between the nodes of warpGrid. */
const GRID_SHIFT: i32 = 4;

/**
 * Like warpFine for maps that are no affine ones: positions are given at nodes every 16 px, bilinear between.
 * @param grid per node x, y (source px, centres at .5) and lift; ⌈dw/16⌉ + 1 nodes across, ⌈dh/16⌉ + 1 down; the node (i, j) stands
 * at destination (16·i, 16·j). Lift l: v → l·(v + 0.055) − 0.055, which multiplies sRGB's light by l^2.4 above its toe.
 */
export function warpGrid(
  src: usize, sw: i32, sh: i32, dst: usize, dw: i32, dh: i32, grid: usize,
): void {
  const plane = <usize>(dw * dh) << 2;
  const rowBytes = <usize>sw << 4;
  const maxX = sw - 1;
  const maxY = sh - 1;
  const nodes = ((dw + 15) >> GRID_SHIFT) + 1;
  const nodeRow = <usize>(nodes * 3) << 2;
  for (let y = 0; y < dh; y++) {
    const v = (<f64>(y & 15) + 0.5) / 16;
    const above = grid + <usize>(y >> GRID_SHIFT) * nodeRow;
    let out = dst + (<usize>(y * dw) << 2);
    for (let cell = 0; cell < nodes - 1; cell++) {
      const p = above + (<usize>(cell * 3) << 2);
      const q = p + nodeRow;
      const leftX = <f64>load<f32>(p) * (1 - v) + <f64>load<f32>(q) * v;
      const leftY = <f64>load<f32>(p, 4) * (1 - v) + <f64>load<f32>(q, 4) * v;
      const leftLift = <f64>load<f32>(p, 8) * (1 - v) + <f64>load<f32>(q, 8) * v;
      const stepX = (<f64>load<f32>(p, 12) * (1 - v) + <f64>load<f32>(q, 12) * v - leftX) / 16;
      const stepY = (<f64>load<f32>(p, 16) * (1 - v) + <f64>load<f32>(q, 16) * v - leftY) / 16;
      const stepLift = (<f64>load<f32>(p, 20) * (1 - v) + <f64>load<f32>(q, 20) * v - leftLift) / 16;
      const x0 = cell << GRID_SHIFT;
      const count = dw - x0 < 16 ? dw - x0 : 16;
      for (let k = 0; k < count; k++, out += 4) {
        const t = <f64>k + 0.5;
        sampleFine(
          src, rowBytes, maxX, maxY, leftX + stepX * t - 0.5, leftY + stepY * t - 0.5, <f32>(leftLift + stepLift * t), out, plane,
        );
      }
    }
  }
}

/** Lanczos' taps at distances 2 + t, 1 + t, t, 1 − t (Horner, all lanes at once). */
@inline
function firstTaps(t: f32): v128 {
  const v = f32x4.splat(t);
  let w = f32x4.add(f32x4.mul(f32x4(-0.2000115, 0.4273116, -0.7142425, 0.7142425), v), f32x4(0.4706158, -1.1754424, 1.9221825, -1.6490302));
  w = f32x4.add(f32x4.mul(w, v), f32x4(-0.1360674, 0.4524613, -0.5361488, -0.0101559));
  w = f32x4.add(f32x4.mul(w, v), f32x4(-0.3424094, 1.1205769, -1.665891, 1.1163325));
  w = f32x4.add(f32x4.mul(w, v), f32x4(0.2078725, -0.8249074, -0.0059002, 0.8286111));
  return f32x4.add(f32x4.mul(w, v), f32x4(0, 0, 1, 0));
}

/** The taps at distances 2 − t and 3 − t, in the first two lanes. */
@inline
function lastTaps(t: f32): v128 {
  const v = f32x4.splat(t);
  let w = f32x4.add(f32x4.mul(f32x4(-0.4273116, 0.2000115, 0, 0), v), f32x4(0.9611158, -0.5294416, 0, 0));
  w = f32x4.add(f32x4.mul(w, v), f32x4(-0.0238082, 0.253719, 0, 0));
  w = f32x4.add(f32x4.mul(w, v), f32x4(-0.3015772, 0.0729683, 0, 0));
  return f32x4.mul(f32x4.add(f32x4.mul(w, v), f32x4(-0.2084188, 0.0027428, 0, 0)), v);
}

@inline
function row(p: usize, w0: v128, w1: v128, w2: v128, w3: v128, w4: v128, w5: v128): v128 {
  return f32x4.add(
    f32x4.add(
      f32x4.add(f32x4.mul(v128.load(p), w0), f32x4.mul(v128.load(p, 16), w1)),
      f32x4.add(f32x4.mul(v128.load(p, 32), w2), f32x4.mul(v128.load(p, 48), w3)),
    ),
    f32x4.add(f32x4.mul(v128.load(p, 64), w4), f32x4.mul(v128.load(p, 80), w5)),
  );
}

@inline
function clamp(v: i32, hi: i32): i32 {
  return v < 0 ? 0 : v > hi ? hi : v;
}

/**
 * Like warpFine for a picture of one plane, four destination pixels at a time. Positions are kept as float offsets from
 * the row's first pixel, which is exact to 1e-4 px within a region of a few thousand px.
 */
export function warpPlane(
  src: usize, sw: i32, sh: i32, dst: usize, dw: i32, dh: i32,
  a: f64, b: f64, c: f64, d: f64, e: f64, f: f64,
): void {
  const maxX = sw - 1;
  const maxY = sh - 1;
  const rowBytes = <usize>sw << 2;
  const lanes = f32x4(0, 1, 2, 3);
  for (let y = 0; y < dh; y++) {
    const py = <f64>y + 0.5;
    const startX = b * py + c + 0.5 * a - 0.5;
    const startY = e * py + f + 0.5 * d - 0.5;
    const out = dst + (<usize>(y * dw) << 2);
    for (let x = 0; x < dw; x += 4) {
      // Whole parts are taken off in double precision, so that the fractions keep their bits.
      const firstX = a * <f64>x + startX;
      const firstY = d * <f64>x + startY;
      const baseX = <i32>floor<f64>(firstX);
      const baseY = <i32>floor<f64>(firstY);
      const px = f32x4.add(f32x4.splat(<f32>(firstX - <f64>baseX)), f32x4.mul(lanes, f32x4.splat(<f32>a)));
      const pyv = f32x4.add(f32x4.splat(<f32>(firstY - <f64>baseY)), f32x4.mul(lanes, f32x4.splat(<f32>d)));
      const fx = f32x4.floor(px);
      const fy = f32x4.floor(pyv);
      const tx = f32x4.sub(px, fx);
      const ty = f32x4.sub(pyv, fy);
      const ix = i32x4.add(i32x4.trunc_sat_f32x4_s(fx), i32x4.splat(baseX));
      const iy = i32x4.add(i32x4.trunc_sat_f32x4_s(fy), i32x4.splat(baseY));
      const y0 = tap0(ty);
      const y1 = tap1(ty);
      const y2 = tap2(ty);
      const y3 = tap3(ty);
      const p0 = column(src, rowBytes, maxX, maxY, i32x4.extract_lane(ix, 0), i32x4.extract_lane(iy, 0),
        lane0(y0), lane0(y1), lane0(y2), lane0(y3));
      const p1 = column(src, rowBytes, maxX, maxY, i32x4.extract_lane(ix, 1), i32x4.extract_lane(iy, 1),
        lane1(y0), lane1(y1), lane1(y2), lane1(y3));
      const p2 = column(src, rowBytes, maxX, maxY, i32x4.extract_lane(ix, 2), i32x4.extract_lane(iy, 2),
        lane2(y0), lane2(y1), lane2(y2), lane2(y3));
      const p3 = column(src, rowBytes, maxX, maxY, i32x4.extract_lane(ix, 3), i32x4.extract_lane(iy, 3),
        lane3(y0), lane3(y1), lane3(y2), lane3(y3));
      // Four taps of four pixels → four pixels of each tap.
      const a01 = i8x16.shuffle(p0, p1, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23);
      const a23 = i8x16.shuffle(p2, p3, 0, 1, 2, 3, 16, 17, 18, 19, 4, 5, 6, 7, 20, 21, 22, 23);
      const b01 = i8x16.shuffle(p0, p1, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31);
      const b23 = i8x16.shuffle(p2, p3, 8, 9, 10, 11, 24, 25, 26, 27, 12, 13, 14, 15, 28, 29, 30, 31);
      let v = f32x4.mul(i64x2.shuffle(a01, a23, 0, 2), tap0(tx));
      v = f32x4.add(v, f32x4.mul(i64x2.shuffle(a01, a23, 1, 3), tap1(tx)));
      v = f32x4.add(v, f32x4.mul(i64x2.shuffle(b01, b23, 0, 2), tap2(tx)));
      v = f32x4.add(v, f32x4.mul(i64x2.shuffle(b01, b23, 1, 3), tap3(tx)));
      const to = out + (<usize>x << 2);
      if (x + 4 <= dw) {
        v128.store(to, v);
      } else {
        store<f32>(to, f32x4.extract_lane(v, 0));
        if (x + 1 < dw) store<f32>(to, f32x4.extract_lane(v, 1), 4);
        if (x + 2 < dw) store<f32>(to, f32x4.extract_lane(v, 2), 8);
      }
    }
  }
}

/** Four horizontal taps at (ix − 1 .. ix + 2), already summed over the four rows; edges repeated. */
@inline
function column(
  src: usize, rowBytes: usize, maxX: i32, maxY: i32, ix: i32, iy: i32, y0: v128, y1: v128, y2: v128, y3: v128,
): v128 {
  if (ix >= 1 && iy >= 1 && ix + 2 <= maxX && iy + 2 <= maxY) {
    const p = src + <usize>(iy - 1) * rowBytes + (<usize>(ix - 1) << 2);
    const q = p + rowBytes * 2;
    return f32x4.add(
      f32x4.add(f32x4.mul(v128.load(p), y0), f32x4.mul(v128.load(p + rowBytes), y1)),
      f32x4.add(f32x4.mul(v128.load(q), y2), f32x4.mul(v128.load(q + rowBytes), y3)),
    );
  }
  let sum = f32x4.mul(edgeTaps(src + <usize>clamp(iy - 1, maxY) * rowBytes, maxX, ix), y0);
  sum = f32x4.add(sum, f32x4.mul(edgeTaps(src + <usize>clamp(iy, maxY) * rowBytes, maxX, ix), y1));
  sum = f32x4.add(sum, f32x4.mul(edgeTaps(src + <usize>clamp(iy + 1, maxY) * rowBytes, maxX, ix), y2));
  return f32x4.add(sum, f32x4.mul(edgeTaps(src + <usize>clamp(iy + 2, maxY) * rowBytes, maxX, ix), y3));
}

function edgeTaps(line: usize, maxX: i32, ix: i32): v128 {
  let v = f32x4.splat(load<f32>(line + (<usize>clamp(ix - 1, maxX) << 2)));
  v = f32x4.replace_lane(v, 1, load<f32>(line + (<usize>clamp(ix, maxX) << 2)));
  v = f32x4.replace_lane(v, 2, load<f32>(line + (<usize>clamp(ix + 1, maxX) << 2)));
  return f32x4.replace_lane(v, 3, load<f32>(line + (<usize>clamp(ix + 2, maxX) << 2)));
}

// The kernel's taps for four fractions at once.
@inline
function tap0(t: v128): v128 {
  const u = f32x4.sub(f32x4.splat(1), t);
  return f32x4.mul(f32x4.mul(f32x4.splat(-0.5), t), f32x4.mul(u, u));
}

@inline
function tap1(t: v128): v128 {
  const w = f32x4.sub(f32x4.mul(f32x4.splat(1.5), t), f32x4.splat(2.5));
  return f32x4.add(f32x4.mul(f32x4.mul(w, t), t), f32x4.splat(1));
}

@inline
function tap2(t: v128): v128 {
  const w = f32x4.sub(f32x4.splat(2), f32x4.mul(f32x4.splat(1.5), t));
  return f32x4.mul(f32x4.add(f32x4.mul(w, t), f32x4.splat(0.5)), t);
}

@inline
function tap3(t: v128): v128 {
  const u = f32x4.sub(t, f32x4.splat(1));
  return f32x4.mul(f32x4.mul(f32x4.splat(0.5), u), f32x4.mul(t, t));
}

@inline
function lane0(v: v128): v128 {
  return i8x16.shuffle(v, v, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3);
}

@inline
function lane1(v: v128): v128 {
  return i8x16.shuffle(v, v, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7);
}

@inline
function lane2(v: v128): v128 {
  return i8x16.shuffle(v, v, 8, 9, 10, 11, 8, 9, 10, 11, 8, 9, 10, 11, 8, 9, 10, 11);
}

@inline
function lane3(v: v128): v128 {
  return i8x16.shuffle(v, v, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15);
}
