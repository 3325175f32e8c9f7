// The lamp room's windows and the light they give inside.

/** Distance of the back wall, m. */
export const WALL_M = 4.2;
/** Height of the eye above the floor, m. */
export const EYE_M = 1.55;
/** Where wall and floor meet, tangent below the horizon. */
export const FLOOR_Y = EYE_M / WALL_M;

export interface Window {
  readonly x: number;
  readonly halfWidth: number;
  readonly top: number;
  readonly sill: number;
}

/** How much window light reaches a place of the room: falls with the distance from each window. */
export function roomLight(x: number, y: number, windows: readonly Window[]): number {
  let light = 0.16;
  for (const w of windows) {
    const d2 = (x - w.x) ** 2 + (Math.max(0, y - w.sill) * 0.8 + Math.max(0, w.top - y)) ** 2;
    light += 0.05 / (0.035 + d2);
  }
  return light * 0.16;
}
