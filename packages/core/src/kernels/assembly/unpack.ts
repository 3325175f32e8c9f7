// Integer RGB triples through one look-up table per channel into float RGBA quads (one vector load per tap later).

/** src: n × 3 bytes; lut: 3 × 256 floats; dst: n × 4 floats, the fourth is 0. */
export function unpack8(src: usize, n: i32, lut: usize, dst: usize): void {
  for (let i = 0; i < n; i++) {
    store<f32>(dst, load<f32>(lut + ((<usize>load<u8>(src)) << 2)));
    store<f32>(dst, load<f32>(lut + 1024 + ((<usize>load<u8>(src, 1)) << 2)), 4);
    store<f32>(dst, load<f32>(lut + 2048 + ((<usize>load<u8>(src, 2)) << 2)), 8);
    store<f32>(dst, 0, 12);
    src += 3;
    dst += 16;
  }
}

/** src: n × 3 half-words; lut: 3 × 65536 floats; dst: n × 4 floats, the fourth is 0. */
export function unpack16(src: usize, n: i32, lut: usize, dst: usize): void {
  for (let i = 0; i < n; i++) {
    store<f32>(dst, load<f32>(lut + ((<usize>load<u16>(src)) << 2)));
    store<f32>(dst, load<f32>(lut + 262144 + ((<usize>load<u16>(src, 2)) << 2)), 4);
    store<f32>(dst, load<f32>(lut + 524288 + ((<usize>load<u16>(src, 4)) << 2)), 8);
    store<f32>(dst, 0, 12);
    src += 6;
    dst += 16;
  }
}

/** Luma only: lut holds weighted tables whose sum is the luma; dst: n floats. */
export function unpackLuma8(src: usize, n: i32, lut: usize, dst: usize): void {
  for (let i = 0; i < n; i++) {
    const r = load<f32>(lut + ((<usize>load<u8>(src)) << 2));
    const g = load<f32>(lut + 1024 + ((<usize>load<u8>(src, 1)) << 2));
    const b = load<f32>(lut + 2048 + ((<usize>load<u8>(src, 2)) << 2));
    store<f32>(dst, r + g + b);
    src += 3;
    dst += 4;
  }
}

/** Luma only: lut holds 3 × 65536 weighted values; dst: n floats. */
export function unpackLuma16(src: usize, n: i32, lut: usize, dst: usize): void {
  for (let i = 0; i < n; i++) {
    const r = load<f32>(lut + ((<usize>load<u16>(src)) << 2));
    const g = load<f32>(lut + 262144 + ((<usize>load<u16>(src, 2)) << 2));
    const b = load<f32>(lut + 524288 + ((<usize>load<u16>(src, 4)) << 2));
    store<f32>(dst, r + g + b);
    src += 6;
    dst += 4;
  }
}
