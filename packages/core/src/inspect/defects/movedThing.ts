// What all sorts of ghosts share: how large a thing may be, and how one is reported.
import { findIslands, type Component } from '../../image';
import { placeComponent, type Detection } from '../detection';
import type { Evidence } from '../detector';

/** Things are smaller than this share of the picture; water, leaves and clouds are not things. */
export const LARGEST_THING = 0.06;

/**
 * A component as a ghost.
 * @returns none where it is less likely real than not
 */
export function ghostOf(
  component: Component,
  gridWidth: number,
  facts: Required<Pick<Detection, 'confidence' | 'measurements' | 'rms'>>,
): Detection[] {
  if (facts.confidence < 0.5) return [];
  return [{ defect: 'ghost', cells: component.cells, ...placeComponent(component, gridWidth), ...facts }];
}

/** Two places of one thing as one component: joined by a narrow way, so that one outline holds both. */
export function bridged(
  one: Component,
  other: Component,
  { width, height }: Pick<Evidence, 'width' | 'height'>,
): Component {
  const at = (i: number): readonly [number, number] => [i % width, Math.floor(i / width)];
  const nearest = (from: Component, [x, y]: readonly [number, number]): number =>
    from.cells.reduce((best, i) => {
      const [[ax, ay], [bx, by]] = [at(i), at(best)];
      return Math.hypot(ax - x, ay - y) < Math.hypot(bx - x, by - y) ? i : best;
    });
  const start = nearest(one, middleOf(other));
  const end = nearest(other, at(start));
  const [[x0, y0], [x1, y1]] = [at(start), at(end)];
  const cells = [...one.cells, ...other.cells];
  const steps = Math.max(1, Math.abs(x1 - x0), Math.abs(y1 - y0));
  for (let n = 0; n <= steps; n++) {
    const [x, y] = [Math.round(x0 + ((x1 - x0) * n) / steps), Math.round(y0 + ((y1 - y0) * n) / steps)];
    // Two cells wide, so that the outline has room on its way back.
    cells.push(y * width + x, y * width + Math.min(width - 1, x + 1));
  }
  return findIslands(cells, { width, height })[0]!;
}

/** Middle of a component, cells. */
export const middleOf = ({ box }: Component): readonly [number, number] => [
  box.x + box.width / 2,
  box.y + box.height / 2,
];
