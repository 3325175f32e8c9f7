// The pool: reading that does not end is given up and frees its thread, cancelled work settles, refusals keep their meaning.
import { join } from 'node:path';
import sharp from 'sharp';
import { InputError } from '../codecs';
import { NoRoomError } from '../shared/noRoom';
import { temporaryFolder } from '../testing/inProcess';
import { refusalOf, valueOf } from './answer';
import { openPool } from './pool';

const { path, clean } = temporaryFolder();
const pool = openPool({ threads: 1 });
afterAll(async () => {
  await pool.close();
  clean();
});

it('a file that is read for too long is given up by name, and its thread reads the next one', async () => {
  const large = join(path, 'large.png');
  const small = join(path, 'small.png');
  await sharp({ create: { width: 9000, height: 7000, channels: 3, background: '#777' } })
    .png()
    .toFile(large);
  await sharp({ create: { width: 90, height: 70, channels: 3, background: '#777' } })
    .png()
    .toFile(small);
  await pool.run('warmUp', null);
  process.env['BLENDRAK_READ_LIMIT_S'] = '0.05';
  const reading = pool.run('store', { path: large, name: 'large.png', out: join(path, 'large.tiles') });
  await expect(reading).rejects.toThrow(
    'large.png: reading it did not end within 0.05 s and was given up. Accepted: files on a disk that answers.',
  );
  delete process.env['BLENDRAK_READ_LIMIT_S'];
  const info = await pool.run('store', { path: small, name: 'small.png', out: join(path, 'small.tiles') });
  expect(info.width).toBe(90);
});

it('cancelled work settles as cancelled, not as a file that was too slow', async () => {
  const abort = new AbortController();
  const reading = pool.run(
    'store',
    { path: join(path, 'large.png'), name: 'large.png', out: join(path, 'again.tiles') },
    abort.signal,
  );
  setTimeout(() => abort.abort(), 20);
  await expect(reading).rejects.toThrow('abort');
});

it('refusals keep their class and words between threads', () => {
  const bad = new InputError('a.jpg', 'it is cut', 'whole files');
  expect(() => valueOf(refusalOf(bad)!)).toThrow(bad);
  const full = new NoRoomError('reading a.jpg', 5e9, 1e9);
  expect(() => valueOf(refusalOf(full)!)).toThrow(NoRoomError);
  expect(() => valueOf(refusalOf(Object.assign(new Error('write failed'), { code: 'ENOSPC' }))!)).toThrow(NoRoomError);
  expect(refusalOf(new Error('a mistake of ours'))).toBeNull();
});
