// Lengths as people type them: "35cm", "1.2 m", "1' 2\"", "infinity".

/** Units of length, in mm. */
export const LENGTH_UNITS = { mm: 1, cm: 10, m: 1000, km: 1e6, in: 25.4, ft: 304.8 } as const;
export type LengthUnit = keyof typeof LENGTH_UNITS;

/** A length with the unit it was typed in. */
export interface TypedLength {
  /** Infinity where that was typed. */
  readonly mm: number;
  readonly unit: LengthUnit;
}

const MARKS: Readonly<Record<string, LengthUnit>> = {
  mm: 'mm',
  cm: 'cm',
  m: 'm',
  km: 'km',
  in: 'in',
  inch: 'in',
  inches: 'in',
  '"': 'in',
  '″': 'in',
  '”': 'in',
  ft: 'ft',
  feet: 'ft',
  foot: 'ft',
  "'": 'ft',
  '′': 'ft',
  '’': 'ft',
};
const NUMBER = String.raw`\d+(?:[.,]\d+)?|[.,]\d+`;
const PART = new RegExp(
  String.raw`^(${NUMBER})\s*(${Object.keys(MARKS)
    .sort((a, b) => b.length - a.length)
    .join('|')})?\s*`,
  'i',
);

/**
 * Reads a length.
 * @param usual unit of a bare number: the one this field was typed in last
 * @returns null for what is no length
 */
export function parseLength(text: string, usual: LengthUnit): TypedLength | null {
  let rest = text.trim();
  if (/^(inf(inity)?|∞)$/i.test(rest)) return { mm: Infinity, unit: usual };
  let mm = 0;
  let first: LengthUnit | null = null;
  let last: LengthUnit | null = null;
  while (rest) {
    const match: RegExpExecArray | null = PART.exec(rest);
    if (!match) return null;
    const mark: string | undefined = match[2]?.toLowerCase();
    // After feet, a bare number is inches.
    const unit: LengthUnit = mark ? MARKS[mark]! : last === 'ft' ? 'in' : usual;
    if (last !== null && !(last === 'ft' && unit === 'in') && !(last === 'm' && unit === 'cm')) return null;
    mm += Number(match[1]!.replace(',', '.')) * LENGTH_UNITS[unit];
    first ??= unit;
    last = unit;
    rest = rest.slice(match[0].length);
  }
  return first === null ? null : { mm, unit: first };
}

/** A length in a unit, with at most `digits` significant figures: "35 cm", "∞". */
export function formatLength(mm: number, unit: LengthUnit, digits = 4): string {
  if (mm === Infinity) return '∞';
  return `${plain(mm / LENGTH_UNITS[unit], digits)} ${unit}`;
}

/** A length in the metric unit that reads best. */
export function readableLength(mm: number, digits = 3): string {
  if (mm === Infinity) return '∞';
  const size = Math.abs(mm);
  if (size > 0 && size < 0.1) return `${plain(mm * 1000, digits)} µm`;
  if (size < 100) return `${plain(mm, digits)} mm`;
  if (size < 1000) return `${plain(mm / 10, digits)} cm`;
  return size < 1e6 ? `${plain(mm / 1000, digits)} m` : `${plain(mm / 1e6, digits)} km`;
}

function plain(value: number, digits: number): string {
  return String(Number(value.toPrecision(digits)));
}
