// Findings in working px, in px of the merge, and back.
import type { Detection } from './detection';
import { detectionInFullPx, detectionInWorkingPx, mapInFullPx, regionInWorkingPx, twoGrids } from './inFullPx';

// 101 working px across are 25 cells; 203 px are 50, of which the last one has no whole working cell.
const GRIDS = twoGrids(203, 90, 2);

const FOUND: Detection = {
  defect: 'misalignment',
  cells: [2 * 25 + 3, 2 * 25 + 4],
  bbox: { x: 12, y: 8, width: 8, height: 4 },
  polygon: [
    [12, 8],
    [20, 8],
    [20, 12],
    [12, 12],
  ],
  confidence: 0.7,
  measurements: {
    shift: { value: 1.5, unit: 'px' },
    burnt: { value: 2, unit: '1000 px' },
    step: { value: 3, unit: 'ΔE00' },
  },
};

it('a finding grows with the px: places and lengths twice, areas four times, the rest not', () => {
  expect(GRIDS).toMatchObject({ full: { width: 50, height: 22 }, working: { width: 25, height: 11 } });
  const full = detectionInFullPx(FOUND, GRIDS);
  expect(full.bbox).toEqual({ x: 24, y: 16, width: 16, height: 8 });
  expect(full.polygon[2]).toEqual([40, 24]);
  const at = (i: number): [number, number] => [i % 50, Math.floor(i / 50)];
  expect(full.cells).toHaveLength(8);
  for (const [x, y] of full.cells.map(at)) {
    expect(x).toBeGreaterThanOrEqual(6);
    expect(x).toBeLessThan(10);
    expect([4, 5]).toContain(y);
  }
  expect(full.measurements).toMatchObject({ shift: { value: 3 }, burnt: { value: 8 }, step: { value: 3 } });
});

it('there and back it is the same', () => {
  expect(detectionInWorkingPx(detectionInFullPx(FOUND, GRIDS), GRIDS)).toEqual(FOUND);
});

it('at full size nothing changes', () => {
  const same = twoGrids(203, 90, 1);
  expect(detectionInFullPx(FOUND, same)).toBe(FOUND);
  expect(detectionInWorkingPx(FOUND, same)).toBe(FOUND);
});

it('a region is grown to whole working px', () => {
  expect(regionInWorkingPx({ x: 5, y: 4, width: 6, height: 3 }, 2)).toEqual({ x: 2, y: 2, width: 4, height: 2 });
});

it('a map is drawn in cells of the merge; at odd edges the last cells stand for what is there', () => {
  const grids = twoGrids(28, 20, 2);
  expect(grids).toMatchObject({ full: { width: 7, height: 5 }, working: { width: 3, height: 2 } });
  const map = mapInFullPx(Uint8Array.from([1, 2, 3, 4, 5, 6]), grids);
  expect([...map.slice(0, 7)]).toEqual([1, 1, 2, 2, 3, 3, 3]);
  expect([...map.slice(28)]).toEqual([4, 4, 5, 5, 6, 6, 6]);
});
