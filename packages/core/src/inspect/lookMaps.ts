// Maps of a merge that people look at, from the evidence of an inspection: one byte per cell.
import { evidenceOf, type EvidenceMaps, type Yardsticks } from './evidence';
import type { Evidence } from './detector';
import { agreement } from './layers/agreement';
import { explanation } from './layers/explanation';
import type { SetFacts } from './layers/layer';
import { relativeSharpness } from './layers/relativeSharpness';
import { sharpness } from './layers/sharpness';
import { unexplained } from './layers/unexplained';

/**
 * sharpness: light where the merge has all the detail that a frame has. disagreement: light where frames show different things.
 * risk: light where it is worth looking.
 */
export const LOOK_MAPS = ['sharpness', 'disagreement', 'risk'] as const;
export type LookMapName = (typeof LOOK_MAPS)[number];
export type LookMaps = Partial<Readonly<Record<LookMapName, Uint8Array>>>;

/** Frames that differ by so many times their noise are as light as half of all. */
const HALF_APART = 16;
/** How often beyond what is usual in the merge something is, to be as light as half of all. */
const HALF_UNLIKE = 4;
/** Least share of a frame's detail, and least misfit, that count as unlike at all. */
const LEAST_SHARE = 0.08;

/**
 * Draws the maps that a kind of merge has.
 * @param maps evidence of the whole merge
 * @returns 0..255 per cell; no disagreement for focus stacks, whose frames differ everywhere by their focus
 */
export function drawLookMaps(maps: EvidenceMaps, facts: SetFacts, yardsticks: Yardsticks): LookMaps {
  const evidence = evidenceOf(maps, facts, yardsticks);
  const { width, height } = maps;
  const cells = width * height;
  const lost = lostDetail(evidence);
  const apart = facts.kind === 'focus-stack' ? null : evidence.of(agreement).apartOverNoise;
  const unlike = unlikeness(evidence);
  const { label } = evidence.of(explanation);
  const risk = new Uint8Array(cells);
  for (let i = 0; i < cells; i++) {
    const cut = apart && isBorder(label, i, width) ? share(apart[i]!, HALF_APART) : 0;
    risk[i] = toByte(Math.max(lost[i]!, share(unlike[i]!, HALF_UNLIKE), cut));
  }
  return {
    sharpness: Uint8Array.from(lost, (v) => toByte(1 - v)),
    ...(apart && { disagreement: Uint8Array.from(apart, (v) => toByte(share(v, HALF_APART))) }),
    risk,
  };
}

/** Share of the sharpest frame's detail (amplitude) that the merge lacks beyond what is usual in it, per cell. */
function lostDetail(evidence: Evidence): Float32Array {
  const ofStack = evidence.facts.kind === 'focus-stack';
  const { softness } = ofStack ? evidence.of(sharpness) : evidence.of(relativeSharpness);
  const { centre } = ofStack ? evidence.yardstick(sharpness) : evidence.yardstick(relativeSharpness);
  return Float32Array.from(softness, (v) => (v === 0 ? 0 : 1 - 2 ** (-Math.max(0, v - centre) / 2)));
}

/** How often beyond what is usual the merge is unlike every frame, per cell; 0 for what is usual. */
function unlikeness(evidence: Evidence): Float32Array {
  if (evidence.facts.kind === 'focus-stack') {
    const usual = Math.max(LEAST_SHARE, evidence.yardstick(unexplained)?.usual ?? 0);
    return Float32Array.from(evidence.of(unexplained).share, (v) => Math.max(0, v / usual - 1));
  }
  const usual = Math.max(1, evidence.yardstick(agreement).usual);
  return Float32Array.from(evidence.of(agreement).misfit, (v) => Math.max(0, v / usual - 1));
}

function isBorder(label: Uint8Array, i: number, width: number): boolean {
  return label[i] !== (label[i + 1] ?? label[i]) || label[i] !== (label[i + width] ?? label[i]);
}

function share(value: number, half: number): number {
  return value / (value + half);
}

function toByte(value: number): number {
  return Math.round(255 * Math.min(1, Math.max(0, value)));
}
