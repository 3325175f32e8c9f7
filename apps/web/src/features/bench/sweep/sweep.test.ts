// The sweep: what counts as looked at, and where it goes next.
import { createSweep } from './sweeping';
import {
  addLook,
  emptySweep,
  isSeen,
  nextUnseen,
  packSeen,
  seenShare,
  squaresInSight,
  unpackSeen,
  type SweepGrid,
} from './sweepGrid';

const picture = { width: 1000, height: 600 };
const pane = { width: 400, height: 300 };
const camera = (originX: number, originY: number, zoom = 1) => ({ originX, originY, zoom, ...pane });

function look(grid: SweepGrid, squares: readonly number[], quarters: number): SweepGrid {
  return Array.from({ length: quarters }).reduce<SweepGrid>((g) => addLook(g, squares), grid);
}

describe('what is in sight', () => {
  it('are the squares of which little is cut off, at full size or more', () => {
    expect(emptySweep(picture)).toMatchObject({ columns: 8, rows: 5 });
    // Columns 1 and 2 and rows 0 and 1 lie wholly between (100, 0) and (500, 300), and all but 12 px of column 3.
    expect(squaresInSight(camera(100, 0), picture, 1)).toEqual([1, 2, 3, 9, 10, 11]);
    expect(squaresInSight(camera(100, 0, 0.5), picture, 1)).toEqual([]);
    // On a fine screen half a CSS px per px is full size.
    expect(squaresInSight(camera(100, 0, 0.5), picture, 2).length).toBeGreaterThan(6);
  });

  it('includes the narrow squares at the picture’s far sides, and nothing beside it', () => {
    expect(squaresInSight(camera(700, 400), picture, 1)).toContain(39);
    expect(squaresInSight(camera(2000, 0), picture, 1)).toEqual([]);
  });
});

describe('the sweep', () => {
  it('counts a square as seen after most of a second, not at a glance', () => {
    const glance = look(emptySweep(picture), [3], 1);
    expect([isSeen(glance, 3), seenShare(glance)]).toEqual([false, 0]);
    const seen = look(glance, [3], 2);
    expect([isSeen(seen, 3), seenShare(seen)]).toEqual([true, 1 / 40]);
  });

  it('reaches all of the picture step by step, each with something unseen, and then ends', () => {
    let grid = emptySweep(picture);
    let at = camera(-50, -50);
    const visited: string[] = [];
    for (;;) {
      const next = nextUnseen(grid, at, picture, 1);
      if (!next) break;
      visited.push(`${Math.round(next.x)},${Math.round(next.y)}`);
      expect(visited.length).toBeLessThan(20);
      at = camera(next.x, next.y);
      grid = look(grid, squaresInSight(at, picture, 1), 3);
    }
    expect(seenShare(grid)).toBe(1);
    expect(new Set(visited).size).toBe(visited.length);
    // To and fro: the second row begins where the first one ended.
    expect(visited.slice(0, 3)).toEqual(['0,0', '300,0', '600,0']);
    expect(visited[3]).toBe('600,150');
  });

  it('goes on from where one is', () => {
    expect(nextUnseen(emptySweep(picture), camera(580, 290), picture, 1)).toMatchObject({ x: 600, y: 300 });
  });

  it('travels as text', () => {
    const seen = Uint8Array.from([0, 1, 200, 255]);
    expect(unpackSeen(packSeen(seen))).toEqual(seen);
  });
});

describe('the sweep under way', () => {
  it('tells each look once, and again when it could not be told', () => {
    const sweeping = createSweep(picture);
    expect(sweeping.takeUntold()).toBeNull();
    sweeping.look([0, 1]);
    const told = sweeping.takeUntold()!;
    expect([told.seen[0], told.seen[2], sweeping.takeUntold()]).toEqual([1, 0, null]);
    sweeping.look([0]);
    sweeping.giveBack(told);
    expect(sweeping.takeUntold()!.seen[0]).toBe(2);
  });

  it('adds what was looked at before, and says when it changes', () => {
    const sweeping = createSweep(picture);
    let changes = 0;
    const stop = sweeping.onChange(() => changes++);
    sweeping.join(new Uint8Array(40).fill(5));
    sweeping.look([]);
    expect([changes, seenShare(sweeping.now())]).toEqual([1, 1]);
    stop();
    sweeping.look([1]);
    expect(changes).toBe(1);
  });
});
