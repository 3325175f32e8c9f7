// The two halves of a Laplacian pyramid (P. J. Burt, E. H. Adelson, IEEE COM-31(4), 1983), [1 4 6 4 1]/16 filter.

@inline
function clamp(v: i32, hi: i32): i32 {
  return v < 0 ? 0 : v > hi ? hi : v;
}

/** Smooths and keeps every second sample; dst is ⌈w/2⌉ × ⌈h/2⌉; tmp holds w floats. */
export function reduce(src: usize, w: i32, h: i32, dst: usize, tmp: usize): void {
  const dw = (w + 1) >> 1;
  const dh = (h + 1) >> 1;
  const six = f32x4.splat(0.375);
  const four = f32x4.splat(0.25);
  const one = f32x4.splat(0.0625);
  for (let y = 0; y < dh; y++) {
    const cy = y << 1;
    const r0 = src + (<usize>(clamp(cy - 2, h - 1) * w) << 2);
    const r1 = src + (<usize>(clamp(cy - 1, h - 1) * w) << 2);
    const r2 = src + (<usize>(cy * w) << 2);
    const r3 = src + (<usize>(clamp(cy + 1, h - 1) * w) << 2);
    const r4 = src + (<usize>(clamp(cy + 2, h - 1) * w) << 2);
    const vecEnd = <usize>(w & ~3) << 2;
    const end = <usize>w << 2;
    let i: usize = 0;
    for (; i < vecEnd; i += 16) {
      let v = f32x4.mul(v128.load(r2 + i), six);
      v = f32x4.add(v, f32x4.mul(f32x4.add(v128.load(r1 + i), v128.load(r3 + i)), four));
      v = f32x4.add(v, f32x4.mul(f32x4.add(v128.load(r0 + i), v128.load(r4 + i)), one));
      v128.store(tmp + i, v);
    }
    for (; i < end; i += 4) {
      store<f32>(
        tmp + i,
        <f32>0.375 * load<f32>(r2 + i) +
          <f32>0.25 * (load<f32>(r1 + i) + load<f32>(r3 + i)) +
          <f32>0.0625 * (load<f32>(r0 + i) + load<f32>(r4 + i)),
      );
    }
    const out = dst + (<usize>(y * dw) << 2);
    for (let x = 0; x < dw; x++) {
      const cx = x << 1;
      const v =
        <f32>0.375 * load<f32>(tmp + (<usize>cx << 2)) +
        <f32>0.25 *
          (load<f32>(tmp + (<usize>clamp(cx - 1, w - 1) << 2)) + load<f32>(tmp + (<usize>clamp(cx + 1, w - 1) << 2))) +
        <f32>0.0625 *
          (load<f32>(tmp + (<usize>clamp(cx - 2, w - 1) << 2)) + load<f32>(tmp + (<usize>clamp(cx + 2, w - 1) << 2)));
      store<f32>(out + (<usize>x << 2), v);
    }
  }
}

/**
 * dst += gain × expansion of a coarse level. dst is w × h, coarse ⌈w/2⌉ × ⌈h/2⌉; tmp holds ⌈w/2⌉ floats.
 * gain -1 turns a level into its Laplacian, +1 puts it back.
 */
export function expandInto(coarse: usize, w: i32, h: i32, dst: usize, tmp: usize, gain: f32): void {
  const cw = (w + 1) >> 1;
  const ch = (h + 1) >> 1;
  for (let y = 0; y < h; y++) {
    const k = y >> 1;
    const mid = coarse + (<usize>(k * cw) << 2);
    const next = coarse + (<usize>(clamp(k + 1, ch - 1) * cw) << 2);
    const prev = coarse + (<usize>(clamp(k - 1, ch - 1) * cw) << 2);
    if ((y & 1) == 0) {
      for (let x = 0; x < cw; x++) {
        const o = <usize>x << 2;
        store<f32>(
          tmp + o,
          gain * (<f32>0.75 * load<f32>(mid + o) + <f32>0.125 * (load<f32>(prev + o) + load<f32>(next + o))),
        );
      }
    } else {
      for (let x = 0; x < cw; x++) {
        const o = <usize>x << 2;
        store<f32>(tmp + o, gain * <f32>0.5 * (load<f32>(mid + o) + load<f32>(next + o)));
      }
    }
    const out = dst + (<usize>(y * w) << 2);
    for (let x = 0; x < w; x++) {
      const j = x >> 1;
      const centre = load<f32>(tmp + (<usize>j << 2));
      const right = load<f32>(tmp + (<usize>clamp(j + 1, cw - 1) << 2));
      let v: f32;
      if ((x & 1) == 0) {
        const left = load<f32>(tmp + (<usize>clamp(j - 1, cw - 1) << 2));
        v = <f32>0.75 * centre + <f32>0.125 * (left + right);
      } else {
        v = <f32>0.5 * (centre + right);
      }
      const o = <usize>x << 2;
      store<f32>(out + o, load<f32>(out + o) + v);
    }
  }
}
