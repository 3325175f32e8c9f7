// Vignetting as a polynomial of light, from its logarithm: where it is fitted, it adds up.

/**
 * Least squares of exp(p·q + s·q²) by 1 + v1·q + v2·q² over q = r² from 0 to 1.
 * @returns v1 and v2
 */
export function lightPolynomial(p: number, s: number): [number, number] {
  let [aa, ab, bb, ay, by] = [0, 0, 0, 0, 0];
  for (let k = 1; k <= 40; k++) {
    const q = k / 40;
    const y = Math.exp(p * q + s * q * q) - 1;
    aa += q * q;
    ab += q * q * q;
    bb += q ** 4;
    ay += q * y;
    by += q * q * y;
  }
  const det = aa * bb - ab * ab;
  return [(ay * bb - by * ab) / det, (aa * by - ab * ay) / det];
}
