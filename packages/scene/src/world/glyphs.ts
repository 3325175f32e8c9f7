// A stroke alphabet for engraving: each glyph is line segments on a 4 × 6 grid, y down.

type Segment = readonly [number, number, number, number];

const S = (text: string): readonly Segment[] => text.split(' ').map((s) => [...s].map(Number) as unknown as Segment);

const GLYPHS: Readonly<Record<string, readonly Segment[]>> = {
  A: S('0620 2046 1434'),
  B: S('0006 0030 3041 4142 4233 0333 3344 4445 4536 3606'),
  C: S('4010 1001 0105 0516 1646'),
  D: S('0006 0030 3041 4145 4536 3606'),
  E: S('4000 0006 0646 0333'),
  F: S('4000 0006 0333'),
  G: S('4010 1001 0105 0516 1646 4643 4323'),
  H: S('0006 4046 0343'),
  I: S('2026 1030 1636'),
  K: S('0006 4003 0346'),
  L: S('0006 0646'),
  M: S('0600 0023 2340 4046'),
  N: S('0600 0046 4640'),
  O: S('1030 3041 4145 4536 3616 1605 0501 0110'),
  P: S('0600 0030 3041 4142 4233 3303'),
  R: S('0600 0030 3041 4142 4233 3303 2346'),
  S: S('4010 1001 0102 0213 1333 3344 4445 4536 3606'),
  T: S('0040 2026'),
  U: S('0005 0516 1636 3645 4540'),
  W: S('0016 1623 2336 3640'),
  Y: S('0023 2340 2326'),
  '0': S('1030 3041 4145 4536 3616 1605 0501 0110 4105'),
  '1': S('1120 2026 1636'),
  '2': S('0110 1030 3041 4142 4206 0646'),
  '3': S('0040 4023 2333 3344 4445 4536 3606'),
  '4': S('3036 3004 0444'),
  '5': S('4000 0003 0333 3344 4445 4536 3606'),
  '6': S('4010 1001 0105 0516 1636 3645 4544 4433 3303'),
  '7': S('0040 4016'),
  '8': S('1030 3041 4142 4233 3313 1302 0201 0110 3344 4445 4536 3616 1605 0504 0413'),
  '9': S('4313 1302 0201 0110 1030 3041 4145 4536 3606'),
  ' ': [],
};

/** Advance per glyph in grid units (glyph width 4 plus spacing). */
const ADVANCE = 6;

/** Width of a text in units of its cap height. */
export function textWidth(text: string): number {
  return (text.length * ADVANCE - 2) / 6;
}

/**
 * Distance from (x, y) to the nearest stroke of a text, in units of its cap height.
 * The text's box is 0..textWidth(text) by 0..1; outside it by more than a stroke the result is only a lower bound.
 */
export function textDistance(text: string, x: number, y: number): number {
  const gx = x * 6;
  const gy = y * 6;
  if (gy < -2 || gy > 8 || gx < -2 || gx > text.length * ADVANCE) return 1;
  const index = Math.min(text.length - 1, Math.max(0, Math.floor((gx + 1) / ADVANCE)));
  const lx = gx - index * ADVANCE;
  let best = 6;
  for (const [x0, y0, x1, y1] of GLYPHS[text[index] ?? ' '] ?? []) {
    const dx = x1 - x0;
    const dy = y1 - y0;
    const t = Math.min(1, Math.max(0, ((lx - x0) * dx + (gy - y0) * dy) / (dx * dx + dy * dy)));
    best = Math.min(best, Math.hypot(lx - x0 - t * dx, gy - y0 - t * dy));
  }
  return best / 6;
}
