// A board on which things stand upright around the viewer.

/**
 * A board bent round the viewer: local coordinates are metres along the circle and up, so that things stand upright and
 * unstretched at any bearing.
 */
export function standing(x0: number, distanceM: number): Board {
  const bearing = Math.atan(x0);
  const spread = 1 + x0 * x0;
  return {
    toLocal: (x, y) => [(Math.atan(x) - bearing) * distanceM, (y / Math.sqrt(1 + x * x)) * distanceM],
    // Roomy bounds for the boxes: a board's far end stretches more than its middle.
    perMetreX: (spread / distanceM) * 1.25,
    perMetreY: (Math.sqrt(spread) / distanceM) * 1.3,
  };
}

export interface Board {
  toLocal(x: number, y: number): [number, number];
  readonly perMetreX: number;
  readonly perMetreY: number;
}
