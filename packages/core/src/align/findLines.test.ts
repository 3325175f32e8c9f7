// Straight edges of drawn frames: found where they are, curves and textures left alone.
import { samplePlane, waveTexture } from '../testing/pictures';
import { findLines, type FrameLine } from '.';

const [W, H] = [480, 320];
const lens = (k1 = 0) => ({
  centre: [W, H] as const,
  halfDiagonalPx: Math.hypot(W, H),
  distortion: [k1, 0] as const,
});

/** A soft edge where a signed distance changes its sign, over a faint texture. */
function edge(distance: (x: number, y: number) => number) {
  const texture = waveTexture(3, 40);
  return samplePlane(W, H, (x, y) => 0.3 + 0.4 / (1 + Math.exp(-distance(x, y) * 2)) + 0.02 * texture(x, y));
}

function angleOf([ax, ay, bx, by]: FrameLine): number {
  const a = (Math.atan2(by - ay, bx - ax) * 180) / Math.PI;
  return ((a % 180) + 180) % 180;
}

describe('findLines', () => {
  it.each([0, 17, 45, 90, 128])('finds an edge at %s° over its whole length, within half a degree', (degrees) => {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    const [line] = findLines(
      edge((x, y) => (y - H / 2) * c - (x - W / 2) * s),
      2,
      lens(),
    );
    expect(Math.abs(angleOf(line!) - degrees) % 180).toBeLessThan(0.5);
    expect(Math.hypot(line![2] - line![0], line![3] - line![1])).toBeGreaterThan(2 * 0.9 * Math.min(W, H));
  });

  it('leaves circles, short edges and textures alone', () => {
    expect(
      findLines(
        edge((x, y) => Math.hypot(x - W / 2, y - H / 2) - 90),
        1,
        lens(),
      ).filter(([ax, ay, bx, by]) => Math.hypot(bx - ax, by - ay) > 70),
    ).toEqual([]);
    expect(
      findLines(
        edge((x, y) => 15 - Math.max(Math.abs(x - 200), Math.abs(y - 150))),
        1,
        lens(),
      ),
    ).toEqual([]);
    expect(findLines(samplePlane(W, H, waveTexture(9, 60)), 1, lens())).toEqual([]);
  });

  it('takes the lens’s bending out: a mast drawn as an arc is a line, and is none to a lens without bending', () => {
    const k1 = 0.12;
    // x on the drawn arc of a mast whose straight place is x0, about the middle of the frame.
    const mast = edge((x, y) => {
      const [dx, dy] = [2 * x - W, 2 * y - H];
      const r2 = (dx * dx + dy * dy) / (W * W + H * H);
      return dx / (1 + k1 * r2) / 2 - 190;
    });
    expect(findLines(mast, 2, lens(k1))).toHaveLength(1);
    expect(findLines(mast, 2, lens()).filter(([, ay, , by]) => Math.abs(by - ay) > 1.5 * H)).toEqual([]);
  });
});
