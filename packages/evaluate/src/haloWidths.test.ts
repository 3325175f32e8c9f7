// Halo widths of drawn pictures whose spoilt rim is known.
import { haloWidths, type HaloPictures } from './haloWidths';

const [W, H] = [120, 90];

/** A near disc in front of a far plane; beyond its rim the merge is brighter by `by` over `spoiltPx`. */
function disc(spoiltPx: number, by: number, spread = 8): HaloPictures {
  const at = (f: (r: number) => number): Float32Array =>
    Float32Array.from({ length: W * H }, (_, i) => f(Math.hypot((i % W) - 60, Math.floor(i / W) - 45)));
  const ideal = at((r) => (r < 20 ? 0.7 : 0.3));
  const halo = at((r) => (r >= 20 && r < 20 + spoiltPx ? by : 0));
  return {
    width: W,
    height: H,
    own: ideal.map((v, i) => v + halo[i]!),
    ideal,
    depthMm: at((r) => (r < 20 ? 300 : 400)),
    spreadPx: (depth, focus) => (depth === focus ? 0 : spread),
  };
}

const median = (v: readonly number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1]!;

describe('haloWidths', () => {
  it('is 0 beside the edges of a perfect merge, and of one that differs by less than is seen', () => {
    const clean = haloWidths(disc(0, 0), 4);
    expect(clean.length).toBeGreaterThan(12);
    expect(Math.max(...clean)).toBe(0);
    expect(Math.max(...haloWidths(disc(12, 0.015), 4))).toBe(0);
  });

  it.each([5, 10, 16])('says %s px for a rim of that width, within 2 px', (spoilt) => {
    expect(Math.abs(median(haloWidths(disc(spoilt, 0.08), 4)) - spoilt)).toBeLessThanOrEqual(2);
  });

  it('looks at no edge that spreads less than a few px, and at none of a flat world', () => {
    expect(haloWidths(disc(10, 0.1, 1), 4)).toEqual([]);
    expect(haloWidths({ ...disc(10, 0.1), depthMm: new Float32Array(W * H).fill(300) }, 4)).toEqual([]);
  });
});
