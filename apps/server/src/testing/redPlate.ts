// A smooth, saturated red plate crossed by thin grey cables of nearly its luma, seen by a camera that turns: hardly anything to hold
// on to, and what there is repeats itself.
import { join } from 'node:path';
import sharp from 'sharp';
import { makeRandom } from '@blendrak/scene';
import { linearToSrgb } from '@blendrak/core/image';

export const PLATE_FOCAL_PX = 1000;
/** Where the camera looks: to the right, down, and how it is rolled, rad. */
export const PLATE_VIEWS = [
  [-0.5, 0.01, 0.002],
  [-0.24, -0.012, -0.004],
  [0.01, 0.008, 0.003],
  [0.26, -0.006, 0.001],
] as const;
const [WIDTH, HEIGHT] = [900, 600];
const SAMPLES = 3;

/** World → camera. */
export function plateRotation(view: (typeof PLATE_VIEWS)[number]): number[][] {
  const [[cy, sy], [cp, sp], [cr, sr]] = view.map((a) => [Math.cos(a), Math.sin(a)]) as [
    [number, number],
    [number, number],
    [number, number],
  ];
  return [
    [cy * cr + sy * sp * sr, cp * sr, cy * sp * sr - sy * cr],
    [sy * sp * cr - cy * sr, cp * cr, sy * sr + cy * sp * cr],
    [sy * cp, -sp, cy * cp],
  ];
}

interface Cable {
  readonly slope: number;
  readonly offset: number;
  readonly half: number;
  readonly steep: number;
}

function cables(random: () => number): Cable[] {
  return Array.from({ length: 9 }, (_, k) => ({
    slope: (k % 2 ? 0.5 : -0.35) + 0.9 * (random() - 0.5),
    offset: -0.6 + 1.2 * random(),
    half: 0.0015 + 0.0015 * random(),
  })).map((c) => ({ ...c, steep: Math.hypot(1, c.slope) }));
}

/**
 * Photographs the plate.
 * @param folder receives plate1.jpg and so on
 * @returns the files' paths
 */
export async function photographPlate(folder: string): Promise<string[]> {
  const random = makeRandom(7);
  const lines = cables(random);
  const isCable = (x: number, y: number, beyond = 0): boolean =>
    lines.some((c) => Math.abs(y - c.slope * x - c.offset) < (c.half + beyond) * c.steep);
  const bell = (): number => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random());
  return Promise.all(
    PLATE_VIEWS.map(async (view, k) => {
      const m = plateRotation(view);
      const data = new Uint8Array(WIDTH * HEIGHT * 3);
      for (let i = 0; i < WIDTH * HEIGHT; i++) {
        // Camera → world: the transpose.
        const at = (du: number, dv: number): [number, number] => {
          const u = ((i % WIDTH) + du - WIDTH / 2) / PLATE_FOCAL_PX;
          const v = (Math.floor(i / WIDTH) + dv - HEIGHT / 2) / PLATE_FOCAL_PX;
          const z = m[0]![2]! * u + m[1]![2]! * v + m[2]![2]!;
          return [(m[0]![0]! * u + m[1]![0]! * v + m[2]![0]!) / z, (m[0]![1]! * u + m[1]![1]! * v + m[2]![1]!) / z];
        };
        const [x, y] = at(0.5, 0.5);
        const shade = 0.5 + 0.08 * Math.sin(1.3 * x) + 0.05 * y;
        let covered = 0;
        if (isCable(x, y, 2 / PLATE_FOCAL_PX))
          for (let s = 0; s < SAMPLES * SAMPLES; s++) {
            const [px, py] = at(((s % SAMPLES) + 0.5) / SAMPLES, (Math.floor(s / SAMPLES) + 0.5) / SAMPLES);
            if (isCable(px, py)) covered += 1 / SAMPLES ** 2;
          }
        const plate = [shade, 0.04 * shade, 0.018];
        const sum = [0.12, 0.11, 0.1].map((c, n) => covered * c + (1 - covered) * plate[n]!);
        sum.forEach((light, c) => {
          const noisy = light + bell() * Math.sqrt(light * 4e-5 + 4e-7);
          data[3 * i + c] = Math.round(255 * Math.min(1, linearToSrgb(Math.max(0, noisy))));
        });
      }
      const path = join(folder, `plate${k + 1}.jpg`);
      await sharp(data, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
        .jpeg({ quality: 95, chromaSubsampling: '4:4:4' })
        .toFile(path);
      return path;
    }),
  );
}
