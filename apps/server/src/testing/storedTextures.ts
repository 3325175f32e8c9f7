// Stored pictures of one texture for tests of tasks: as it is, moved by a known shift, and darker.
import { join } from 'node:path';
import sharp from 'sharp';
import { SAME_PLACE } from '@blendrak/core/frame';
import { IDENTITY_TONE, type Plane } from '@blendrak/core/image';
import { addNoise, greyPixels, samplePlane, waveTexture } from '../../../../packages/core/src/testing/pictures';
import { storePicture } from '../jobs/handlers/storePicture';
import type { InspectionScene, PlacedPicture } from '../jobs/protocol';

export const [W, H] = [600, 440];
export const NOISE = 0.004;
export const texture = waveTexture(11, 40);
/** How far the moved picture is moved, px. */
export const SHIFT = { x: 3.4, y: -2.2 };

/** The texture with noise, moved and toned. */
export function plane(dx = 0, dy = 0, gain = 1, seed = 1): Plane {
  const clear = samplePlane(W, H, (x, y) => gain * (0.15 + 0.6 * texture(x + dx, y + dy)));
  return addNoise(clear, NOISE, seed);
}

export type Stored = PlacedPicture & { readonly width: number; readonly height: number };

/** A merge with operations and frames. */
export function sceneOf(
  merge: Stored,
  operations: InspectionScene['operations'] = [],
  frames: readonly PlacedPicture[] = [],
): InspectionScene {
  return { merge, frames, operations };
}

/** Stores pictures in a folder, as grey or in three channels. */
export function storeIn(root: string) {
  const storeColours = async (name: string, channels: readonly [Plane, Plane, Plane]): Promise<Stored> => {
    const { width, height } = channels[0];
    const data = new Uint8Array(3 * width * height);
    channels.forEach((channel, c) => {
      const pixels = greyPixels(channel, 8).data;
      for (let i = c; i < data.length; i += 3) data[i] = pixels[i]!;
    });
    const path = join(root, `${name}.png`);
    await sharp(data, { raw: { width, height, channels: 3 } })
      .png()
      .toFile(path);
    const tiles = join(root, `${name}.tiles`);
    const { noise } = await storePicture({ path, name: `${name}.png`, out: tiles });
    return { tiles, noise, geometry: SAME_PLACE, tone: IDENTITY_TONE, width, height };
  };
  const store = (name: string, of: Plane): Promise<Stored> => storeColours(name, [of, of, of]);
  return {
    store,
    storeColours,
    /** The texture as it is, moved, and darker. */
    three: async () => ({
      base: await store('base', plane()),
      moved: await store('moved', plane(SHIFT.x, SHIFT.y, 1, 2)),
      dim: await store('dim', plane(0, 0, 0.7, 3)),
    }),
  };
}
