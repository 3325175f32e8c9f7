// The cheapest cut against all cuts of small grids, and along a channel of a large one.
import { minimumCut, type GridGraph } from './minimumCut';

/** A fixed sequence of values 0..1. */
function sequence(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

function randomGraph(width: number, height: number, seed: number): GridGraph {
  const next = sequence(seed);
  const n = width * height;
  const arcs = Float32Array.from({ length: 4 * n }, () => Math.floor(next() * 8));
  return { width, height, arcs, second: Float32Array.from({ length: n }, () => Math.floor(next() * 13) - 6) };
}

function costOf({ width, height, arcs, second }: GridGraph, side: ArrayLike<number>): number {
  let cost = 0;
  for (let p = 0; p < width * height; p++) {
    cost += side[p] ? Math.max(0, second[p]!) : Math.max(0, -second[p]!);
    const x = p % width;
    const around = [
      x < width - 1 ? p + 1 : -1,
      x > 0 ? p - 1 : -1,
      p + width < width * height ? p + width : -1,
      p - width,
    ];
    around.forEach((q, d) => {
      if (q >= 0 && !side[p] && side[q]) cost += arcs[4 * p + d]!;
    });
  }
  return cost;
}

it.each(Array.from({ length: 12 }, (_, k) => k + 1))(
  'costs no more than any of all cuts of a 4 × 3 grid (seed %i)',
  (seed) => {
    const graph = randomGraph(4, 3, seed * 77);
    let least = Infinity;
    for (let code = 0; code < 4096; code++)
      least = Math.min(
        least,
        costOf(
          graph,
          Array.from({ length: 12 }, (_, p) => (code >> p) & 1),
        ),
      );
    const cut = minimumCut({ ...graph, arcs: graph.arcs.slice() });
    expect(costOf(graph, cut)).toBeCloseTo(least, 4);
  },
);

it('cuts along the cheap channel of a large grid', () => {
  const [width, height] = [80, 60];
  const n = width * height;
  const arcs = new Float32Array(4 * n);
  const second = new Float32Array(n);
  for (let p = 0; p < n; p++) {
    const [x, y] = [p % width, Math.floor(p / width)];
    const channel = Math.round(40 + 15 * Math.sin(y / 9));
    const cost = x === channel || x === channel - 1 ? 1 : 50;
    arcs.fill(cost, 4 * p, 4 * p + 4);
    if (x === 0) second[p] = 1e4;
    if (x === width - 1) second[p] = -1e4;
  }
  const cut = minimumCut({ width, height, arcs, second });
  for (let y = 0; y < height; y++) {
    const channel = Math.round(40 + 15 * Math.sin(y / 9));
    const row = [...cut.subarray(y * width, (y + 1) * width)];
    expect(row.lastIndexOf(0)).toBeGreaterThanOrEqual(channel - 2);
    expect(row.indexOf(1)).toBeLessThanOrEqual(channel + 1);
  }
});

it('refuses arcs that do not fit the grid', () => {
  expect(() => minimumCut({ width: 2, height: 2, arcs: new Float32Array(4), second: new Float32Array(4) })).toThrow(
    'minimumCut.graph.arcs.length: expected 16 values, received 4',
  );
});
