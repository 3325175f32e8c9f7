// f-numbers as people type them: "8", "f/8", "f 5,6".

/**
 * Reads an f-number as people write it: 5.6, f/5.6, F 5,6.
 * @returns the number; null for what is no f-number
 */
export function parseFNumber(text: string): number | null {
  const match = /^f?\s*\/?\s*(\d+(?:[.,]\d+)?)$/i.exec(text.trim());
  if (!match) return null;
  const value = Number(match[1]!.replace(',', '.'));
  return value > 0 ? value : null;
}

/** An f-number above 0 as lenses are marked with it, two digits: 5.6 becomes "f/5.6". */
export function formatFNumber(value: number): string {
  return `f/${Number(value.toPrecision(2))}`;
}
