// Affine resampling with Keys' cubic convolution kernel, a = -0.5 (R. G. Keys, IEEE ASSP 29(6), 1981).

/**
 * Samples an RGBA float picture at affine positions into four planes (R, G, B, valid).
 * (a, b, c, d, e, f) maps a destination pixel centre to source coordinates with pixel centres at .5.
 * Outside the source the edge is repeated and valid is 0.
 */
export function warpCubic(
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
      const fx = floor<f64>(sx);
      const fy = floor<f64>(sy);
      const ix = <i32>fx;
      const iy = <i32>fy;
      const wx = weights(<f32>(sx - fx));
      const wy = weights(<f32>(sy - fy));
      const x0 = i8x16.shuffle(wx, wx, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3);
      const x1 = i8x16.shuffle(wx, wx, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7);
      const x2 = i8x16.shuffle(wx, wx, 8, 9, 10, 11, 8, 9, 10, 11, 8, 9, 10, 11, 8, 9, 10, 11);
      const x3 = i8x16.shuffle(wx, wx, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15);
      const y0 = i8x16.shuffle(wy, wy, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3);
      const y1 = i8x16.shuffle(wy, wy, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7);
      const y2 = i8x16.shuffle(wy, wy, 8, 9, 10, 11, 8, 9, 10, 11, 8, 9, 10, 11, 8, 9, 10, 11);
      const y3 = i8x16.shuffle(wy, wy, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15, 12, 13, 14, 15);
      let acc: v128;
      let inside: f32 = 1;
      if (ix >= 1 && iy >= 1 && ix + 2 <= maxX && iy + 2 <= maxY) {
        const p = src + <usize>(iy - 1) * rowBytes + (<usize>(ix - 1) << 4);
        const q = p + rowBytes * 2;
        acc = f32x4.add(
          f32x4.add(
            f32x4.mul(row(p, x0, x1, x2, x3), y0),
            f32x4.mul(row(p + rowBytes, x0, x1, x2, x3), y1),
          ),
          f32x4.add(
            f32x4.mul(row(q, x0, x1, x2, x3), y2),
            f32x4.mul(row(q + rowBytes, x0, x1, x2, x3), y3),
          ),
        );
      } else {
        const o0 = <usize>clamp(ix - 1, maxX) << 4;
        const o1 = <usize>clamp(ix, maxX) << 4;
        const o2 = <usize>clamp(ix + 1, maxX) << 4;
        const o3 = <usize>clamp(ix + 2, maxX) << 4;
        acc = f32x4.splat(0);
        for (let k = 0; k < 4; k++) {
          const p = src + <usize>clamp(iy - 1 + k, maxY) * rowBytes;
          let r = f32x4.mul(v128.load(p + o0), x0);
          r = f32x4.add(r, f32x4.mul(v128.load(p + o1), x1));
          r = f32x4.add(r, f32x4.mul(v128.load(p + o2), x2));
          r = f32x4.add(r, f32x4.mul(v128.load(p + o3), x3));
          acc = f32x4.add(acc, f32x4.mul(r, k == 0 ? y0 : k == 1 ? y1 : k == 2 ? y2 : y3));
        }
        if (sx < -0.5 || sy < -0.5 || sx > <f64>maxX + 0.5 || sy > <f64>maxY + 0.5) inside = 0;
      }
      v128.store_lane<f32>(out, acc, 0);
      v128.store_lane<f32>(out + plane, acc, 1);
      v128.store_lane<f32>(out + plane * 2, acc, 2);
      store<f32>(out + plane * 3, inside);
    }
  }
}

/** The kernel's four taps at distances 1 + t, t, 1 − t, 2 − t, as cubics in t (Horner, all lanes at once). */
@inline
function weights(t: f32): v128 {
  const v = f32x4.splat(t);
  let w = f32x4.add(f32x4.mul(f32x4(-0.5, 1.5, -1.5, 0.5), v), f32x4(1, -2.5, 2, -0.5));
  w = f32x4.add(f32x4.mul(w, v), f32x4(-0.5, 0, 0.5, 0));
  return f32x4.add(f32x4.mul(w, v), f32x4(0, 1, 0, 0));
}

@inline
function row(p: usize, w0: v128, w1: v128, w2: v128, w3: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(v128.load(p), w0), f32x4.mul(v128.load(p, 16), w1)),
    f32x4.add(f32x4.mul(v128.load(p, 32), w2), f32x4.mul(v128.load(p, 48), w3)),
  );
}

@inline
function clamp(v: i32, hi: i32): i32 {
  return v < 0 ? 0 : v > hi ? hi : v;
}
