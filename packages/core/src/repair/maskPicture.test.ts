// Masks that come back from elsewhere: any size of the merge's shape, packed and laid again.
import { layShape, packMaskPicture, type MaskPicture, type PictureShape } from './index';

const MERGE = { width: 240, height: 160 };

/** A soft disc, as a painting program would save it. */
function disc(width: number, height: number): Uint8Array {
  return Uint8Array.from({ length: width * height }, (_, i) => {
    const x = ((i % width) + 0.5) * (MERGE.width / width);
    const y = (Math.floor(i / width) + 0.5) * (MERGE.height / height);
    return 255 * Math.min(1, Math.max(0, (50 - Math.hypot(x - 100, y - 80)) / 12));
  });
}

function laid(picture: MaskPicture, region = { x: 0, y: 0, ...MERGE }, scale = 1): Float32Array {
  const mask = new Float32Array(region.width * region.height);
  layShape(mask, region, { kind: 'picture', ...picture } satisfies PictureShape, scale);
  return mask;
}

it('of the merge’s own size comes back value by value, without what is empty around it', () => {
  const values = disc(240, 160);
  const picture = packMaskPicture(values, MERGE, MERGE)!;
  expect(picture.box).toMatchObject({ x: 50, y: 30, width: 100, height: 100 });
  laid(picture).forEach((v, i) => expect(Math.abs(255 * v - values[i]!)).toBeLessThan(0.01));
});

it('of half the size lies where it belongs, and parts of it agree with the whole', () => {
  const picture = packMaskPicture(disc(120, 80), { width: 120, height: 80 }, MERGE)!;
  const whole = laid(picture);
  const full = disc(240, 160);
  const off = Array.from(whole, (v, i) => Math.abs(255 * v - full[i]!));
  expect(Math.max(...off)).toBeLessThan(16);
  const region = { x: 70, y: 50, width: 60, height: 40 };
  laid(picture, region).forEach((v, i) =>
    expect(v).toBeCloseTo(whole[(50 + Math.floor(i / 60)) * 240 + 70 + (i % 60)]!, 6),
  );
});

it('that shows nothing is none', () => {
  expect(packMaskPicture(new Uint8Array(60 * 40), { width: 60, height: 40 }, MERGE)).toBeNull();
});

it('that cannot be read is refused by name', () => {
  const picture = packMaskPicture(disc(120, 80), { width: 120, height: 80 }, MERGE)!;
  expect(() => laid({ ...picture, packed: 'AAAA' })).toThrow(/mask.packed.*zlib in base 64/);
  expect(() => laid({ ...picture, rows: picture.rows + 3 })).toThrow(/mask.packed/);
  expect(() => laid({ ...picture, columns: 5000 })).toThrow(/mask.columns/);
  expect(() => packMaskPicture(new Uint8Array(7), { width: 3, height: 2 }, MERGE)).toThrow(/6 values, received 7/);
});
