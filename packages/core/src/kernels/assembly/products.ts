// Scalar products of many short lists: how alike the descriptions of places are.

/** dst[j] = Σ one[k] × many[j × length + k] for `count` lists; length is a multiple of 4. */
export function scalarProducts(one: usize, many: usize, count: i32, length: i32, dst: usize): void {
  const reach = <usize>length << 2;
  let list = many;
  for (let j = 0; j < count; j++, list += reach) {
    let sum = f32x4.splat(0);
    for (let k: usize = 0; k < reach; k += 16) {
      sum = f32x4.add(sum, f32x4.mul(v128.load(one + k), v128.load(list + k)));
    }
    const product =
      f32x4.extract_lane(sum, 0) +
      f32x4.extract_lane(sum, 1) +
      f32x4.extract_lane(sum, 2) +
      f32x4.extract_lane(sum, 3);
    store<f32>(dst + (<usize>j << 2), product);
  }
}
