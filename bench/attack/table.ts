// What an attack found, as one table.

export interface Row {
  readonly what: string;
  readonly result: string;
  /** Whether what is promised was kept. */
  readonly good: boolean;
}

export function printTable(rows: readonly Row[]): string {
  const width = Math.max(...rows.map((r) => r.what.length));
  return rows.map((r) => `${r.good ? 'kept  ' : 'BROKEN'}  ${r.what.padEnd(width)}  ${r.result}\n`).join('');
}
