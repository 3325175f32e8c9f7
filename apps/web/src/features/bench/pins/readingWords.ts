// Readings in words: what was measured, in units, and what it means.
import type { PinKind, Reading } from '@blendrak/contract';

export const PIN_NAMES: Readonly<Record<PinKind, string>> = {
  line: 'Line probe',
  edge: 'Edge probe',
  patch: 'Patch probe',
};

const px = (v: number): string => `${v.toFixed(1)} px`;
const signed = (v: number, digits: number): string => `${v < 0 ? '−' : '+'}${Math.abs(v).toFixed(digits)}`;
const percent = (v: number): string => `${(100 * v).toFixed(1)} %`;

/** A difference of tone that a careful eye sees side by side, ΔE00. */
const SEEN_DIFFERENCE = 1;
/** Share of a line that is to be followed before anything is said of all of it. */
const MOSTLY_SEEN = 0.85;
/** Grain and detail that differ by less than this factor are alike. */
const ALIKE = 1.25;

/** What a reading means, in a sentence. */
export function verdictOn(reading: Reading, names: readonly string[]): string {
  switch (reading.kind) {
    case 'line': {
      const broken = reading.breaks.filter((b) => b.isBroken);
      if (broken.length === 0) {
        const seen = reading.merge.filter((v) => v !== null).length / reading.merge.length;
        if (seen < MOSTLY_SEEN) {
          return `Nothing is broken where the line was followed, over ${Math.round(100 * seen)} % of the way. Draw closer to it, or in parts.`;
        }
        return reading.breaks.length === 0
          ? 'The line goes on straight; it crosses no border between frames that is known.'
          : 'The line goes on across every border as the frames show it.';
      }
      const worst = broken.reduce((a, b) => (Math.abs(b.merge.offsetPx) > Math.abs(a.merge.offsetPx) ? b : a));
      const where = worst.border
        ? `where ${names[worst.border[0]]} meets ${names[worst.border[1]]}`
        : `at ${Math.round(worst.at)} px, where no border is known`;
      return `Broken ${where}: ${px(Math.abs(worst.merge.offsetPx))} aside, turned by ${Math.abs(worst.merge.kinkDeg).toFixed(1)}°.`;
    }
    case 'edge': {
      const widest = reading.bands.reduce((a, b) => (Math.abs(b.heightPercent) > Math.abs(a) ? b.heightPercent : a), 0);
      if (!reading.sharpest) return 'No frame shows this edge: there is nothing to compare it with.';
      if (widest === 0) return `No band beside the edge that ${names[reading.sharpest.frame]} has not.`;
      return `A ${widest > 0 ? 'lighter' : 'darker'} band beside the edge that ${names[reading.sharpest.frame]} has not.`;
    }
    case 'patch': {
      const own = reading.frames.length === 0 ? null : Math.min(...reading.frames.map((f) => f.ownStep));
      if (own === null) return 'No frame covers both places: the step may be the scene’s own.';
      if (own < SEEN_DIFFERENCE)
        return 'Both sides differ as they do in the scene: no step of the merge’s own is seen.';
      return `A step of ${own.toFixed(1)} ΔE00 that no frame has: plain side by side from 1.`;
    }
  }
}

/** Figures of a reading, in the order in which they matter. */
export function figuresOf(reading: Reading, names: readonly string[]): [string, string][] {
  switch (reading.kind) {
    case 'line':
      return reading.breaks.flatMap(({ at, border, merge, frame, isBroken }): [string, string][] => [
        [
          `At ${Math.round(at)} px${border ? `, ${border[0] + 1} | ${border[1] + 1}` : ''}`,
          `${isBroken ? 'broken' : 'whole'}`,
        ],
        ['offset, kink', `${signed(merge.offsetPx, 2)} px, ${signed(merge.kinkDeg, 1)}°`],
        ...(frame
          ? [
              [`in ${names[frame.index]}`, `${signed(frame.offsetPx, 2)} px, ${signed(frame.kinkDeg, 1)}°`] as [
                string,
                string,
              ],
            ]
          : []),
      ]);
    case 'edge':
      return [
        ['Edge width, 10 to 90 %', px(reading.shape.widthPx)],
        ...(reading.sharpest
          ? [[`in ${names[reading.sharpest.frame]}`, px(reading.sharpest.shape.widthPx)] as [string, string]]
          : []),
        ['Step', percent(Math.abs(reading.shape.after - reading.shape.before))],
        ...reading.bands.map((b): [string, string] => [
          `Band ${b.side} the edge`,
          `${signed(b.heightPercent, 0)} % of the step, ${b.widthPx} px`,
        ]),
      ];
    case 'patch': {
      const { from, to, difference } = reading.merge;
      return [
        ['Difference of the sides', `${difference.toFixed(1)} ΔE00`],
        ...reading.frames
          .slice(0, 4)
          .map(({ frame, pair }): [string, string] => [`in ${names[frame]}`, `${pair.difference.toFixed(1)} ΔE00`]),
        ['Grain, from | to', `${percent(from.grain)} | ${percent(to.grain)}${unlike(from.grain, to.grain)}`],
        ['Detail, from | to', `${percent(from.detail)} | ${percent(to.detail)}${unlike(from.detail, to.detail)}`],
      ];
    }
  }
}

function unlike(a: number, b: number): string {
  const ratio = Math.max(a, b) / Math.max(1e-6, Math.min(a, b));
  return ratio < ALIKE ? '' : ` (${ratio.toFixed(1)} ×)`;
}
