import { readFileSync, readdirSync } from 'node:fs';
import { resolve, join } from 'node:path';
import { planSet, shotOf, castRow, makeRayRow } from '@blendrak/scene';
process.env['BLENDRAK_WORKER'] ??= resolve('apps/server/dist/worker.js');
const { openPool } = await import('../apps/server/src/jobs');
const { freshCommission } = await import('../apps/server/src/services/camera');
const { trulyAt } = await import('../apps/server/src/services/camera/evaluate/trueGeometry');
const { alignPanorama } = await import('../apps/server/src/services/pipeline');
const folder = process.argv[2]!; const seed = Number(process.argv[3]);
const c = freshCommission('panorama', seed, 1200).assignment;
const plan = planSet({ ...c, settings: { ...c.settings, shakenFrame: null, fringedFrame: null, pupilOffsetMm: 0 } });
const pool = openPool(2);
const names = readdirSync(`${folder}/frames`).filter((f) => f.endsWith('.jpg')).sort();
const pictures = []; for (const name of names) { const path = join(folder, 'frames', name); const tiles = `/tmp/bm/t-${Date.now()}-${name}.tiles`; pictures.push({ name, tiles, ...(await pool.run('store', { path, name, out: tiles })) }); }
let last: { reference: { name: string }; moving: { name: string }; ties: { x: number; y: number; u: number; v: number; hxx: number; hyy: number }[] }[] = [];
const run = async (n: string, r: never, s: never) => { const o = await pool.run(n as never, r, s); if (n === 'ties') { const q = r as { reference: { name: string }; moving: { name: string }; fine: boolean }; if (q.fine) last.push({ ...q, ties: o as never }); } return o; };
await alignPanorama(pictures as never, { bendPx: 0 }, { run: run as never, parallel: 2, onProgress: () => undefined });
const rays = makeRayRow(1);
for (const p of last) {
  const [i, j] = [names.indexOf(p.reference.name), names.indexOf(p.moving.name)];
  const [a, b] = [shotOf(plan, i).view, shotOf(plan, j).view];
  const rows = p.ties.flatMap((t) => { castRow(a, t.y, t.x - 0.5, 1, 1, rays); const at = trulyAt(b, [rays.x[0]!, rays.y[0]!, rays.z[0]!]); return at ? [[t.x, t.y, t.u - at[0], t.v - at[1], Math.sqrt(2 / (t.hxx + t.hyy))] as const] : []; });
  const by = new Map<number, (typeof rows)[number][]>();
  rows.forEach((r) => { const k = Math.floor(r[1] / 75); by.set(k, [...(by.get(k) ?? []), r]); });
  const med = (l: number[]) => [...l].sort((x, y) => x - y)[l.length >> 1]!;
  console.log(i, j, rows.length);
  for (const [k, l] of [...by].sort((x, y) => x[0] - y[0])) console.log('  y', k * 75, 'n', l.length, 'du', med(l.map((r) => r[2])).toFixed(2), 'dv', med(l.map((r) => r[3])).toFixed(2), 'sd', med(l.map((r) => r[4])).toFixed(3));
}
await pool.close();
