import { measureProcess } from './measureProcess';
const [kind, folder, native] = process.argv.slice(2) as [string, string, string?];
const run = native ? await measureProcess('/usr/bin/python3', ['bench/native/chain.py', kind, folder, `/tmp/big/${kind}-native.tif`]) : await measureProcess(process.execPath, ['apps/server/bin/blendrak.js', 'merge', folder, '--kind', kind, '--out', `/tmp/big/${kind}-own.tif`]);
console.log(kind, native ?? 'own', run.code, run.seconds.toFixed(1), 's', (run.peakMb / 1024).toFixed(2), 'GB', run.err.slice(0, 300));
