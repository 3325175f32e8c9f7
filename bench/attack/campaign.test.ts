// The campaign in its short form: kills, hostile files, abuse, two people, a full disk, over the built application.
import { attack, SHORT, type AttackName } from './campaign';
import { printTable } from './table';

const SEED = 20261128;

it.each<[AttackName, number]>([
  ['kills', 4410],
  ['files', 4411],
  ['requests', 4412],
  ['two', 4413],
  ['disk', 4414],
])(
  'what is promised is kept under %s',
  async (name, port) => {
    const rows = await attack([name], SHORT, SEED, port);
    expect(rows.length).toBeGreaterThan(0);
    expect(printTable(rows.filter((row) => !row.good).concat({ what: '', result: '', good: true }))).toBe(
      'kept      \n',
    );
  },
  400_000,
);
