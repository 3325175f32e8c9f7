// Every list of one set times every list of another: how alike descriptions of places are.
import { badParameter } from '../checks';
import type { Kernels } from './memory';

/**
 * Scalar products of all pairs of two sets of lists, told row by row.
 * @param a, b lists of `length` values, one after the other
 * @param length values per list, a multiple of 4
 * @param tell is given the index of a list of `a` and its products with all of `b`, which hold until it returns
 * @throws ParameterError for another length, or values that make no whole number of lists
 * Cost: 64 values in 6 ns per pair.
 */
export function scalarProducts(
  kernels: Kernels,
  a: Float32Array,
  b: Float32Array,
  length: number,
  tell: (index: number, products: Float32Array) => void,
): void {
  if (!(length >= 4 && length % 4 === 0)) throw badParameter('scalarProducts.length', 'a multiple of 4', length);
  for (const [name, { length: values }] of Object.entries({ a, b })) {
    if (values % length !== 0) throw badParameter(`scalarProducts.${name}.length`, `a multiple of ${length}`, values);
  }
  const [ours, theirs] = [a.length / length, b.length / length];
  kernels.scope(() => {
    const [from, to, out] = [a.length, b.length, theirs].map((n) => kernels.alloc(4 * n)) as [number, number, number];
    kernels.f32(from, a.length).set(a);
    kernels.f32(to, b.length).set(b);
    const products = kernels.f32(out, theirs);
    for (let i = 0; i < ours; i++) {
      kernels.run.scalarProducts(from + 4 * length * i, to, theirs, length, out);
      tell(i, products);
    }
  });
}
