// Sizes of files and memory, in steps of a thousand as cards and disks count them.

/** "907 MB", "1.2 GB". */
export function formatBytes(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  let value = bytes;
  let k = 0;
  while (value >= 999.5 && k < units.length - 1) {
    value /= 1000;
    k += 1;
  }
  return `${Number(value.toPrecision(3))} ${units[k]}`;
}
