// Pictures for screens: their size, their profile, their bytes.
import { join } from 'node:path';
import sharp from 'sharp';
import { temporaryFolder } from '../testing/inProcess';
import { screenJpeg } from './screenJpeg';

const { path: folder, clean } = temporaryFolder();
afterAll(clean);
const [W, H] = [240, 160];

/** A picture with some detail, 16 bits, in a wide profile. */
async function smooth(name: string): Promise<string> {
  const data = Uint16Array.from({ length: W * H * 3 }, (_, i) => 30000 + 25000 * Math.sin(i / 17) * Math.cos(i / 2311));
  const path = join(folder, name);
  await sharp(data, { raw: { width: W, height: H, channels: 3 } })
    .toColourspace('rgb16')
    .withIccProfile('p3')
    .tiff({ compression: 'none' })
    .toFile(path);
  return path;
}

it('a JPEG for screens is sRGB, no longer and no larger than asked for, and says so when it cannot be', async () => {
  const whole = await smooth('screen.tif');
  const out = join(folder, 'screen.jpg');
  const small = await screenJpeg(whole, out, 120, null);
  expect([small.width, small.height, small.fits]).toEqual([120, 80, true]);
  expect((await sharp(out).metadata()).space).toBe('srgb');
  expect((await screenJpeg(whole, out, null, 6000)).bytes).toBeLessThanOrEqual(6000);
  expect((await screenJpeg(whole, out, null, 20)).fits).toBe(false);
  // It is never enlarged.
  expect((await screenJpeg(whole, out, 4000, null)).width).toBe(W);
});
