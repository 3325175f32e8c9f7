// Drafts that show a thing in the wrong place: shifted parts, things caught twice, filled edges.
import { between } from '../world/random';
import { claim, covering, tryBlobs, type Draft, type Scout } from './draft';
import { CELL } from './cells';
import { depthInEdge } from './composeMerge';
import type { MotionZone } from './cleanLabels';
import { MIN_CELLS } from './fault';
import type { EdgeFill } from './recipe';

/** A part that lies some px from where its frame has it. */
export function shiftDraft(scout: Scout): Draft | null {
  const { survey, clean, random, strength } = scout;
  const distance = strength >= 1 ? between(random, 5, 9) : between(random, 2, 4);
  return tryBlobs(scout, [0.04, 0.065], (cells) => {
    const seen = cells.filter((c) => survey.detail[c]! > 0.035).length;
    if (seen < cells.length * 0.3) return null;
    const angle = random() * 2 * Math.PI;
    return {
      defect: 'misalignment',
      cells,
      shown: [...new Set(cells.map((c) => clean[c]!))],
      donors: 'best',
      donorOptional: false,
      apply(recipe) {
        for (const c of cells) {
          recipe.shiftX[c] = distance * Math.cos(angle);
          recipe.shiftY[c] = distance * Math.sin(angle);
        }
      },
    };
  });
}

const THERE = 0.25;

/** A moving thing that the merge shows see-through, cut in half, or twice. */
export function ghostDraft(scout: Scout): Draft | null {
  const { survey, clean, zones, random, taken } = scout;
  const { moving, covers } = survey;
  const order = zones.map((z, i) => ({ z, key: random() + i * 1e-9 })).sort((a, b) => a.key - b.key);
  for (const { z } of order) {
    if (z.cells.length < MIN_CELLS || z.cells.some((c) => taken[c] === 2)) continue;
    const first = clean[z.cells[z.cells.length >> 1]!]!;
    for (const other of covers.keys()) {
      if (other === first) continue;
      const both = z.cells.filter((c) => covers[first]![c] && covers[other]![c]);
      const differs = both.filter((c) => Math.abs(moving[first]![c]! - moving[other]![c]!) > THERE);
      const there = both.filter((c) => moving[first]![c]! > THERE || moving[other]![c]! > THERE);
      if (differs.length < MIN_CELLS * 0.75 || there.length < MIN_CELLS) continue;
      // A zone is claimed as a whole by the mark 2: its cells count as taken for all other faults from the start.
      for (const c of z.cells) taken[c] = 2;
      return caught(['see-through', 'half', 'twice'][Math.floor(random() * 3)]!, there, first, other, scout, z);
    }
  }
  return null;
}

function caught(
  how: string,
  cells: readonly number[],
  first: number,
  other: number,
  { survey }: Scout,
  zone: MotionZone,
): Draft {
  const { moving, grid } = survey;
  const across = grid.width;
  const middle = cells.reduce((s, c) => s + (c % across), 0) / cells.length;
  const fromOther = cells.filter((c) =>
    how === 'half' ? c % across > middle : how === 'twice' ? moving[other]![c]! > THERE / 2 : false,
  );
  return {
    defect: 'ghost',
    cells,
    shown: [first, other],
    donors: 'covering',
    donorOptional: false,
    zone,
    apply(recipe) {
      if (how === 'see-through') {
        for (const c of cells) {
          recipe.labels[c] = first;
          recipe.second[c] = other;
          recipe.share[c] = 0.5;
        }
      }
      for (const c of fromOther) recipe.labels[c] = other;
    },
  };
}

/** A strip along one edge that was filled instead of cropped. */
export function edgeDraft(scout: Scout): Draft | null {
  const { survey, clean, random, strength } = scout;
  const { grid, plan } = survey;
  const sides = ['left', 'right', 'top', 'bottom'] as const;
  const modes = ['mirrored', 'smeared', 'empty'] as const;
  const size = Math.min(plan.canvas.width, plan.canvas.height);
  const edge: EdgeFill = {
    side: sides[Math.floor(random() * 4)]!,
    widthPx: Math.round(Math.max(10, size * between(random, 0.012, 0.03) * (strength >= 1 ? 1 : 0.6))),
    mode: modes[Math.floor(random() * 3)]!,
  };
  const cells: number[] = [];
  for (let c = 0; c < grid.width * grid.height; c++) {
    const x = (c % grid.width) * CELL + CELL / 2;
    const y = Math.floor(c / grid.width) * CELL + CELL / 2;
    if (depthInEdge(edge, plan.canvas, x, y) > 0) cells.push(c);
  }
  const free = cells.filter((c) => !scout.taken[c]);
  if (free.length < cells.length / 2 || !claim(scout, free)) return null;
  return {
    defect: 'border',
    cells: free,
    shown: [...new Set(free.map((c) => clean[c]!))],
    donors: covering(survey, free).length > 0 ? 'best' : 'covering',
    donorOptional: true,
    apply(recipe) {
      recipe.edge = edge;
    },
  };
}
