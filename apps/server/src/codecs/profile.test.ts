// Colour profiles: names in both forms, and broken ones that must not make a good picture fail.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { temporaryFolder } from '../testing/inProcess';
import { decodePicture, inspectPicture } from './index';
import { BROKEN_PROFILE, readProfile } from './profile';
import { tiffBuffer } from './writeTiff';

const { path: folder, clean } = temporaryFolder();
afterAll(clean);

/** A profile of one tag `desc`. */
function profileWith(tag: Buffer): Buffer {
  const icc = Buffer.alloc(144 + tag.length);
  icc.writeUInt32BE(icc.length, 0);
  icc.write('acsp', 36, 'latin1');
  icc.writeUInt32BE(1, 128);
  icc.write('desc', 132, 'latin1');
  icc.writeUInt32BE(144, 136);
  icc.writeUInt32BE(tag.length, 140);
  tag.copy(icc, 144);
  return icc;
}

function named(text: string, bytes = text.length * 2): Buffer {
  const words = Buffer.from(text, 'utf16le').swap16();
  const tag = Buffer.alloc(28 + words.length);
  tag.write('mluc', 0, 'latin1');
  tag.writeUInt32BE(1, 8);
  tag.writeUInt32BE(12, 12);
  tag.writeUInt32BE(bytes, 20);
  tag.writeUInt32BE(28, 24);
  words.copy(tag, 28);
  return tag;
}

it('names are read in both forms', () => {
  const old = Buffer.alloc(12 + 8);
  old.write('desc', 0, 'latin1');
  old.writeUInt32BE(8, 8);
  old.write('Station\0', 12, 'latin1');
  expect(readProfile(profileWith(old)).name).toBe('Station');
  expect(readProfile(profileWith(named('Lamp room'))).name).toBe('Lamp room');
  expect(readProfile(undefined)).toEqual({ icc: null, name: null });
});

it('a name of an odd length, or longer than the tag, is read as far as it goes', () => {
  expect(readProfile(profileWith(named('Lamp', 7))).name).toBe('Lam');
  expect(readProfile(profileWith(named('Lamp', 4000))).name).toBe('Lamp');
});

it.each([
  ['too short', (icc: Buffer) => icc.subarray(0, 90)],
  ['cut off', (icc: Buffer) => icc.subarray(0, 150)],
  ['without signature', (icc: Buffer) => Buffer.concat([icc.subarray(0, 36), Buffer.from('nope'), icc.subarray(40)])],
  [
    'with a table of a billion tags',
    (icc: Buffer) => {
      icc.writeUInt32BE(1e9, 128);
      return icc;
    },
  ],
  [
    'with a tag beyond its end',
    (icc: Buffer) => {
      icc.writeUInt32BE(1e6, 140);
      return icc;
    },
  ],
])('a profile %s is left out and named as such', (_, spoil) => {
  expect(readProfile(spoil(profileWith(named('Lamp room'))))).toEqual({ icc: null, name: BROKEN_PROFILE });
});

it('a good picture with a broken profile is read, and says so', async () => {
  const path = join(folder, 'good.tif');
  const pixels = { width: 80, height: 70, data: new Uint8Array(80 * 70 * 3).fill(90) };
  writeFileSync(path, tiffBuffer(pixels, 8, profileWith(named('Lamp room')).subarray(0, 151)));
  const info = await inspectPicture(path);
  expect([info.profileName, info.icc]).toEqual([BROKEN_PROFILE, null]);
  expect((await decodePicture(path, info))[0]).toBe(90);
  const odd = join(folder, 'odd.tif');
  writeFileSync(odd, tiffBuffer(pixels, 8, profileWith(named('Lamp room', 7))));
  expect((await inspectPicture(odd)).profileName).toBe('Lam');
  expect((await sharp(odd).metadata()).icc).toBeDefined();
});
