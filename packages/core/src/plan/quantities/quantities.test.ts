import fc from 'fast-check';
import {
  formatBytes,
  formatDuration,
  formatFNumber,
  formatLength,
  formatShutter,
  LENGTH_UNITS,
  parseFNumber,
  parseLength,
  parseShutter,
  readableLength,
  type LengthUnit,
} from '.';

describe('lengths', () => {
  it.each<[string, number, LengthUnit]>([
    ['35cm', 350, 'cm'],
    ['1.2 m', 1200, 'm'],
    ['1,2 m', 1200, 'm'],
    ['1\' 2"', 355.6, 'ft'],
    ["1'2", 355.6, 'ft'],
    ['5 ft', 1524, 'ft'],
    ['2in', 50.8, 'in'],
    ['1 m 20 cm', 1200, 'm'],
    ['80', 800, 'cm'],
    ['.5 m', 500, 'm'],
    ['2 km', 2e6, 'km'],
  ])('%s is %f mm, typed in %s', (text, mm, unit) => {
    const read = parseLength(text, 'cm')!;
    expect(read.mm).toBeCloseTo(mm, 6);
    expect(read.unit).toBe(unit);
  });

  it('reads infinity, and keeps the usual unit', () => {
    expect(parseLength('infinity', 'm')).toEqual({ mm: Infinity, unit: 'm' });
    expect(parseLength('∞', 'm')!.mm).toBe(Infinity);
  });

  it.each(['', 'abc', '3 parsecs', '1 cm 2 m', '--3', '1/2 m', '-4 cm', '3 4'])('does not read “%s”', (text) => {
    expect(parseLength(text, 'mm')).toBeNull();
  });

  it('reads back what it writes, in every unit', () => {
    const unit = fc.constantFrom(...(Object.keys(LENGTH_UNITS) as LengthUnit[]));
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 1e6, noNaN: true }), unit, (mm, u) => {
        const read = parseLength(formatLength(mm, u, 12).replace(/e[+-]\d+/, ''), u);
        if (/e/.test(formatLength(mm, u, 12))) return;
        expect(read!.mm / mm).toBeCloseTo(1, 9);
        expect(read!.unit).toBe(u);
      }),
    );
  });

  it('chooses a readable unit', () => {
    expect([0.0215, 12.34, 350, 1309, 2.5e6, Infinity].map((mm) => readableLength(mm))).toEqual([
      '21.5 µm',
      '12.3 mm',
      '35 cm',
      '1.31 m',
      '2.5 km',
      '∞',
    ]);
  });
});

describe('times, f-numbers and bytes', () => {
  it.each([
    ['1/125', 0.008],
    ['1/125 s', 0.008],
    ['0.8 s', 0.8],
    ['2"', 2],
    ['2', 2],
    ['1m30', 90],
    ["1' 30", 90],
    ['0,5', 0.5],
  ])('%s is %f s', (text, seconds) => expect(parseShutter(text)).toBeCloseTo(seconds, 9));

  it.each(['', '0', '1/0', 'fast', '-1', '1/x'])('does not read “%s” as a time', (text) =>
    expect(parseShutter(text)).toBeNull(),
  );

  it('writes times as they stand on a camera and reads them back', () => {
    expect([1 / 125, 0.5, 2, 90].map(formatShutter)).toEqual(['1/125 s', '0.5 s', '2 s', '90 s']);
    for (const s of [1 / 8000, 1 / 125, 1 / 15, 0.4, 2, 30])
      expect(parseShutter(formatShutter(s))! / s).toBeCloseTo(1, 1);
    expect([45, 200, 3900].map(formatDuration)).toEqual(['45 s', '3 min 20 s', '1 h 5 min']);
  });

  it('reads and writes f-numbers', () => {
    expect(['8', 'f/8', 'F 5,6', 'f11'].map(parseFNumber)).toEqual([8, 8, 5.6, 11]);
    expect([parseFNumber('f/'), parseFNumber('0')]).toEqual([null, null]);
    expect([formatFNumber(5.6), formatFNumber(11)]).toEqual(['f/5.6', 'f/11']);
  });

  it('counts bytes in thousands', () => {
    expect([999, 907_200_000, 1.5e12].map(formatBytes)).toEqual(['999 B', '907 MB', '1.5 TB']);
  });
});
