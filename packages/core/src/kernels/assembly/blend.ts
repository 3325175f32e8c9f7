// Weighted sums of planes.

/** base += mask × (donor − base), element by element. */
export function blendInto(base: usize, donor: usize, mask: usize, n: i32): void {
  const end = (<usize>n) << 2;
  const vecEnd = (<usize>(n & ~3)) << 2;
  let i: usize = 0;
  for (; i < vecEnd; i += 16) {
    const b = v128.load(base + i);
    const d = f32x4.sub(v128.load(donor + i), b);
    v128.store(base + i, f32x4.add(b, f32x4.mul(v128.load(mask + i), d)));
  }
  for (; i < end; i += 4) {
    const b = load<f32>(base + i);
    store<f32>(base + i, b + load<f32>(mask + i) * (load<f32>(donor + i) - b));
  }
}

/** acc += weight × src, element by element. */
export function accumulate(acc: usize, src: usize, weight: usize, n: i32): void {
  const end = (<usize>n) << 2;
  const vecEnd = (<usize>(n & ~3)) << 2;
  let i: usize = 0;
  for (; i < vecEnd; i += 16) {
    v128.store(acc + i, f32x4.add(v128.load(acc + i), f32x4.mul(v128.load(src + i), v128.load(weight + i))));
  }
  for (; i < end; i += 4) {
    store<f32>(acc + i, load<f32>(acc + i) + load<f32>(src + i) * load<f32>(weight + i));
  }
}

/** acc /= weight where weight exceeds a tiny floor; elsewhere acc is left. */
export function divideInto(acc: usize, weight: usize, n: i32): void {
  for (let i = 0; i < n; i++) {
    const o = (<usize>i) << 2;
    const w = load<f32>(weight + o);
    if (w > <f32>1e-6) store<f32>(acc + o, load<f32>(acc + o) / w);
  }
}
