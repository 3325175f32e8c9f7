// Three float planes in 0..1 back to interleaved integers, rounded and clamped.

/** planes: R, G, B planes of n floats each; dst: n × 3 bytes. */
export function packPlanar8(planes: usize, n: i32, dst: usize): void {
  const plane = <usize>n << 2;
  for (let i = 0; i < n; i++) {
    const o = <usize>i << 2;
    store<u8>(dst, <u8>level(load<f32>(planes + o), 255));
    store<u8>(dst, <u8>level(load<f32>(planes + plane + o), 255), 1);
    store<u8>(dst, <u8>level(load<f32>(planes + plane * 2 + o), 255), 2);
    dst += 3;
  }
}

/** planes: R, G, B planes of n floats each; dst: n × 3 half-words. */
export function packPlanar16(planes: usize, n: i32, dst: usize): void {
  const plane = <usize>n << 2;
  for (let i = 0; i < n; i++) {
    const o = <usize>i << 2;
    store<u16>(dst, <u16>level(load<f32>(planes + o), 65535));
    store<u16>(dst, <u16>level(load<f32>(planes + plane + o), 65535), 2);
    store<u16>(dst, <u16>level(load<f32>(planes + plane * 2 + o), 65535), 4);
    dst += 6;
  }
}

@inline
function level(v: f32, top: f32): u32 {
  const s = v * top + <f32>0.5;
  return <u32>(s < 0 ? <f32>0 : s > top ? top : s);
}
