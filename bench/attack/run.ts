// The campaign against the server, printed as one table.
// npm run build && npx tsx bench/attack/run.ts [--short] [--only kills,files] [--seed N] [--minutes M]
import { parseArgs } from 'node:util';
import { attack, ATTACKS, LONG, SHORT } from './campaign';
import { printTable } from './table';

const { values } = parseArgs({
  options: {
    short: { type: 'boolean', default: false },
    only: { type: 'string' },
    seed: { type: 'string', default: String(Date.now() % 1_000_000) },
    minutes: { type: 'string' },
    port: { type: 'string', default: '4440' },
  },
});
const names = ATTACKS.filter((name) => values.only === undefined || values.only.split(',').includes(name));
const usual = values.short ? SHORT : LONG;
const size = { ...usual, soakMinutes: values.minutes === undefined ? usual.soakMinutes : Number(values.minutes) };
process.stdout.write(`seed ${values.seed}\n`);
const rows = await attack(names, size, Number(values.seed), Number(values.port));
process.stdout.write(printTable(rows));
process.exitCode = rows.every((row) => row.good) ? 0 : 1;
