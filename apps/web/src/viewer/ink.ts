// The colour of marks on a picture: chosen from what the picture does not contain.

const INKS = ['#ffffff', '#000000', '#00e5ff', '#ff4fd8', '#ffe600', '#39ff5a', '#ff5a1f', '#5a6bff'];

/** The ink whose distance to the picture's colours is largest where it is least (10th percentile over the pixels). */
export function chooseInk(pixels: Uint8ClampedArray): string {
  let best = INKS[0]!;
  let widest = -1;
  for (const ink of INKS) {
    const [r, g, b] = [1, 3, 5].map((i) => parseInt(ink.slice(i, i + 2), 16)) as [number, number, number];
    const distances: number[] = [];
    for (let i = 0; i < pixels.length; i += 16) {
      // Weighted by the eye's sensitivity, good enough to rank eight inks.
      const d = 0.3 * (pixels[i]! - r) ** 2 + 0.59 * (pixels[i + 1]! - g) ** 2 + 0.11 * (pixels[i + 2]! - b) ** 2;
      distances.push(d);
    }
    distances.sort((x, y) => x - y);
    const low = distances[Math.floor(distances.length / 10)] ?? 0;
    if (low > widest) [widest, best] = [low, ink];
  }
  return best;
}

/** Chooses the ink for a picture by its overview. */
export async function inkFor(overviewUrl: string): Promise<string> {
  const image = new Image();
  image.src = overviewUrl;
  await image.decode();
  const canvas = document.createElement('canvas');
  Object.assign(canvas, { width: image.naturalWidth, height: image.naturalHeight });
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(image, 0, 0);
  return chooseInk(context.getImageData(0, 0, canvas.width, canvas.height).data);
}
