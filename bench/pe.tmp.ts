import { readFileSync, readdirSync } from 'node:fs';
import { planSet, shotOf } from '@blendrak/scene';
const { freshCommission } = await import('../apps/server/src/services/camera');
const { pairErrors } = await import('../apps/server/src/services/camera/evaluate');
const { placesOf } = await import('../apps/server/src/services/camera/evaluate/trueGeometry');
const folder = process.argv[2]!; const seed = Number(process.argv[3]);
const c = freshCommission('panorama', seed, 1200).assignment;
const plan = planSet({ ...c, settings: { ...c.settings, shakenFrame: null, fringedFrame: null, pupilOffsetMm: 0 } });
const names = readdirSync(`${folder}/frames`).filter((f) => f.endsWith('.jpg')).sort();
const report = JSON.parse(readFileSync(`${folder}/own.json`, 'utf8'));
console.log(JSON.stringify(c.settings), names.length);
const p = placesOf(report);
for (const [k, f] of report.frames.entries()) { const v = shotOf(plan, names.indexOf(f.file)).view; console.log(f.file, v.width, v.height, v.focalPx, f.alignment.parameters.focalPx, p[k]!.toMerge(v.width/2, v.height/2), p[k]!.toMerge(0,0), f.alignment.parameters.canvasAxis, f.alignment.parameters.distortion); }
console.log(pairErrors({ plan, names, kept: names.map((_, n) => n) }, report));
