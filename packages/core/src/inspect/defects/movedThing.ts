// What all sorts of ghosts share: how large a thing may be, and how one is reported.
import type { Component } from '../../image';
import { placeComponent, type Detection } from '../detection';

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
