// Which px of a region lie in polygons of the merge.
import { paintArea, type Region } from '@blendrak/core/image';

/**
 * @param polygons corners in merge px
 * @param region in merge px divided by scale
 * @returns 1 per px that lies in one of them
 */
export function areaOf(
  polygons: readonly (readonly (readonly [number, number])[])[],
  { x, y, width, height }: Region,
  scale: number,
): Uint8Array {
  const shapes = polygons.map((polygon) => ({
    kind: 'polygon' as const,
    corners: polygon.map(([px, py]) => [(px / scale - x) / width, (py / scale - y) / height] as const),
  }));
  return paintArea(shapes, width, height).data;
}
