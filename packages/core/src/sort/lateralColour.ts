// Lateral colour: how much larger the lens draws red, and blue, than green.
import { badParameter } from '../checks';

/** Inside this radius, in half diagonals, there is too little of it to see. */
const INNER = 0.4;
const REACH = 2;

/**
 * Scale of red and of blue against green, as a share of the radius: red(p) = green(p/(1 + s)), so that the difference of their
 * fine detail goes with −s·p·∇green. Least squares over the outer frame; what the scene itself is coloured does not go with the
 * direction of the edges and averages out.
 * @param rgb interleaved codes
 * @returns s of red and of blue; 0 where there is no detail
 * @throws ParameterError for codes that do not fit the size
 * Cost: linear in pixels.
 */
export function lateralColour(rgb: Uint8Array, width: number, height: number): readonly [red: number, blue: number] {
  if (rgb.length !== width * height * 3)
    throw badParameter('lateralColour.rgb', `3 codes for each of ${width} × ${height} px`, rgb.length);
  const half2 = (width * width + height * height) / 4;
  const row = 3 * width;
  // Fine detail of a channel: its code against the mean of four others near by.
  const fine = (i: number): number =>
    4 * rgb[i]! - rgb[i - 3 * REACH]! - rgb[i + 3 * REACH]! - rgb[i - REACH * row]! - rgb[i + REACH * row]!;
  const red = { along: 0, gain: 0 };
  const blue = { along: 0, gain: 0 };
  let slope2 = 0;
  let green2 = 0;
  for (let y = REACH + 1; y < height - REACH - 1; y += 2) {
    const py = y + 0.5 - height / 2;
    for (let x = REACH + 1; x < width - REACH - 1; x++) {
      const px = x + 0.5 - width / 2;
      if (px * px + py * py < INNER * INNER * half2) continue;
      const i = 3 * (y * width + x);
      const g = i + 1;
      const slope = (px * (fine(g + 3) - fine(g - 3)) + py * (fine(g + row) - fine(g - row))) / 2;
      const green = fine(g);
      slope2 += slope * slope;
      green2 += green * green;
      red.along += fine(i) * slope;
      red.gain += fine(i) * green;
      blue.along += fine(i + 2) * slope;
      blue.gain += fine(i + 2) * green;
    }
  }
  const scale = ({ along, gain }: { readonly along: number; readonly gain: number }): number =>
    slope2 > 0 && gain > 0 ? (-along / slope2) * (green2 / gain) : 0;
  return [scale(red), scale(blue)];
}
