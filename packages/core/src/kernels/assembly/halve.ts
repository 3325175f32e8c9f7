// 2 × 2 means of interleaved RGB integers for the tile pyramid; an odd last row or column is averaged alone.

export function halve8(src: usize, w: i32, h: i32, dst: usize): void {
  const dw = (w + 1) >> 1;
  const dh = (h + 1) >> 1;
  for (let y = 0; y < dh; y++) {
    const r0 = src + <usize>((y << 1) * w * 3);
    const r1 = (y << 1) + 1 < h ? r0 + <usize>(w * 3) : r0;
    for (let x = 0; x < dw; x++) {
      const a = <usize>((x << 1) * 3);
      const b = (x << 1) + 1 < w ? a + 3 : a;
      for (let c: usize = 0; c < 3; c++) {
        const sum =
          <u32>load<u8>(r0 + a + c) + <u32>load<u8>(r0 + b + c) + <u32>load<u8>(r1 + a + c) + <u32>load<u8>(r1 + b + c);
        store<u8>(dst + c, <u8>((sum + 2) >> 2));
      }
      dst += 3;
    }
  }
}

export function halve16(src: usize, w: i32, h: i32, dst: usize): void {
  const dw = (w + 1) >> 1;
  const dh = (h + 1) >> 1;
  for (let y = 0; y < dh; y++) {
    const r0 = src + <usize>((y << 1) * w * 6);
    const r1 = (y << 1) + 1 < h ? r0 + <usize>(w * 6) : r0;
    for (let x = 0; x < dw; x++) {
      const a = <usize>((x << 1) * 6);
      const b = (x << 1) + 1 < w ? a + 6 : a;
      for (let c: usize = 0; c < 6; c += 2) {
        const sum =
          <u32>load<u16>(r0 + a + c) +
          <u32>load<u16>(r0 + b + c) +
          <u32>load<u16>(r1 + a + c) +
          <u32>load<u16>(r1 + b + c);
        store<u16>(dst + c, <u16>((sum + 2) >> 2));
      }
      dst += 6;
    }
  }
}
