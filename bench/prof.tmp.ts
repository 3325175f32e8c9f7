import { readdirSync } from 'node:fs';
import { resolve, join } from 'node:path';
process.env['BLENDRAK_WORKER'] ??= resolve('apps/server/dist/worker.js');
const { openPool } = await import('../apps/server/src/jobs');
const { alignFrames, ALIGNMENT_DEFAULTS } = await import('../apps/server/src/services/pipeline');
const folder = process.argv[2]!;
const pool = openPool(1);
const names = readdirSync(`${folder}/frames`).filter((f) => f.endsWith('.jpg')).sort();
const pictures = []; for (const name of names) { const path = join(folder, 'frames', name); const tiles = `/tmp/bm/t-${Date.now()}-${name}.tiles`; pictures.push({ name, tiles, ...(await pool.run('store', { path, name, out: tiles })) }); }
const times: Record<string, number> = {};
const t0 = performance.now();
const set = await alignFrames(pictures, ALIGNMENT_DEFAULTS, { run: async (n: never, r: never, s: never) => { const t = performance.now(); const o = await pool.run(n, r, s); times[n as string] = (times[n as string] ?? 0) + performance.now() - t; return o; }, parallel: 1, onProgress: () => undefined } as never);

console.log('align', performance.now() - t0, times);
const { width, height } = set.frames[0]!;
const region = { x: 0, y: 0, width: 1024, height: 900 };
for (let k = 0; k < 3; k++) {
  const t = performance.now();
  const p = await pool.run('labels', { frames: set.frames, region, width, height });
  console.log('labels', performance.now() - t, p.first.tones.cells.length, p.last.tones.cells.length);
}
await pool.close();
