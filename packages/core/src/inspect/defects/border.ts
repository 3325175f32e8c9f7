// border: a strip along an edge of the merge that no frame has: left empty, mirrored or smeared.
import { findComponents, median, type Component } from '../../image';
import { placeComponent, type Detection } from '../detection';
import type { Detector, Evidence } from '../detector';
import { explanation } from '../layers/explanation';
import { MERGE_KINDS } from '../layers/layer';
import { rim } from '../layers/rim';
import { sharpness } from '../layers/sharpness';
import { NONE_OF_THEM } from '../../provenance';

/** What a strip was filled with. */
type Filling = 'empty' | 'mirrored' | 'smeared' | 'invented';

/** How deep strips are looked for, as a share of the side they leave. */
const DEEPEST = 0.15;
/** Strips are looked for window by window along the edge, cells. */
const WINDOW = 24;
/** Telling cells of which so many must be unexplained before a line belongs to the strip. */
const UNEXPLAINED = 0.5;
const LEAST_TELLING = 4;
const ALL_BUT = 0.8;
/** Cells over which pictures are compared around each. */
const REACH = 5;
/** The thinnest strip, and the least area, cells. */
const THINNEST = 2;
const MIN_CELLS = 24;
/** Share of an edge that a strip which frames reach must run along, or … */
const LEAST_LENGTH = 0.2;
/** … so many windows that agree on its depth to a cell: before what is even a strip shows in pieces. */
const LEAST_AGREEING = 2;
/** Tone that does not change: two levels of 255. */
const SAME_TONE = 0.008;
/** Tone that a frame of the same place does not have in a merge: five levels of 255. */
const OTHER_TONE = 0.02;
/** A strip that is no picture is plain at 100 %: four just visible steps and more. */
const PLAIN_RMS = 0.05;

/** One edge of the merge: cells counted along it and inwards. */
interface Edge {
  readonly name: 'left' | 'right' | 'top' | 'bottom';
  readonly along: number;
  readonly deep: number;
  /** Cells inwards of the whole picture. */
  readonly wholeDeep: number;
  at(t: number, depth: number): number;
}

/** The picture's own edges, of which a part of it may have none. */
function edgesOf({ width, height, picture }: Evidence): Edge[] {
  const [across, down] = [
    { along: height, deep: width, wholeDeep: picture.width },
    { along: width, deep: height, wholeDeep: picture.height },
  ];
  const edges: Edge[] = [];
  if (picture.x === 0) edges.push({ name: 'left', ...across, at: (t, d) => t * width + d });
  if (picture.x + width === picture.width)
    edges.push({ name: 'right', ...across, at: (t, d) => t * width + width - 1 - d });
  if (picture.y === 0) edges.push({ name: 'top', ...down, at: (t, d) => d * width + t });
  if (picture.y + height === picture.height)
    edges.push({ name: 'bottom', ...down, at: (t, d) => (height - 1 - d) * width + t });
  return edges;
}

/**
 * Finds strips along the edges: what no frame reaches, and what frames reach but do not explain although its filling is of a known sort.
 */
function findBorders(evidence: Evidence): Detection[] {
  const { width, height } = evidence;
  const strips = edgesOf(evidence).map((edge) => stripAlong(evidence, edge));
  // A corner belongs to the longer of its strips.
  strips.sort((a, b) => b.cells.length - a.cells.length);
  const taken = new Uint8Array(width * height);
  return strips.flatMap(({ edge, filling, cells }) => {
    const data = new Uint8Array(width * height);
    for (const i of cells) if (!taken[i]) data[i] = 1;
    for (const i of cells) taken[i] = 1;
    return findComponents({ width, height, data })
      .filter((c) => c.cells.length >= MIN_CELLS)
      .map((c) => detectionOf(c, width, edge, filling));
  });
}

interface EdgeStrip {
  readonly edge: Edge;
  readonly filling: Filling;
  readonly cells: readonly number[];
}

/** What runs along one edge. */
function stripAlong(evidence: Evidence, edge: Edge): EdgeStrip {
  const windows = windowsOf(edge);
  const strips = windows.map((w) => stripAt(evidence, edge, w));
  const lengthOf = (filling: Filling): number =>
    windows.reduce((n, w, k) => n + (strips[k]?.filling === filling ? w.t1 - w.t0 : 0), 0);
  const filling = FILLINGS.reduce((best, f) => (lengthOf(f) > lengthOf(best) ? f : best));
  const depths = strips.flatMap((s) => (s && s.filling === filling ? [s.depth] : []));
  const depth = depths.length > 0 ? median(depths) : 0;
  const agreeing = depths.filter((d) => Math.abs(d - depth) <= 1).length;
  // Chance makes a short piece its own mirror image; what frames reach is only a strip over some length, or where it is seen again.
  const isStrip = lengthOf(filling) >= LEAST_LENGTH * edge.along || agreeing >= LEAST_AGREEING;
  const cells = windows.flatMap((w, k) => {
    const own = strips[k];
    const deep = own?.beyond ? own.depth : isStrip && (own || isSilent(evidence, edge, w, depth)) ? depth : 0;
    return Array.from({ length: (w.t1 - w.t0) * Math.floor(deep) }, (_, n) =>
      edge.at(w.t0 + Math.floor(n / Math.floor(deep)), n % Math.floor(deep)),
    );
  });
  return { edge, filling, cells };
}

/** A piece along an edge, cells. */
interface Window {
  readonly t0: number;
  readonly t1: number;
}

function windowsOf({ along }: Edge): Window[] {
  return Array.from({ length: Math.ceil(along / WINDOW) }, (_, k) => ({
    t0: k * WINDOW,
    t1: Math.min(along, (k + 1) * WINDOW),
  }));
}

/** Whether a piece holds too little for its frames to contradict the strip that runs on either side of it. */
function isSilent(evidence: Evidence, edge: Edge, { t0, t1 }: Window, depth: number): boolean {
  const { label } = evidence.of(explanation);
  const { significant } = evidence.of(sharpness);
  let [telling, explained] = [0, 0];
  for (let t = t0; t < t1; t++) {
    for (let d = 0; d < depth; d++) {
      const i = edge.at(t, d);
      if (!significant[i]) continue;
      telling += 1;
      if (label[i] !== NONE_OF_THEM) explained += 1;
    }
  }
  return explained < UNEXPLAINED * telling || telling < LEAST_TELLING;
}

function detectionOf(component: Component, width: number, edge: Edge, filling: Filling): Detection {
  const across = edge.name === 'left' || edge.name === 'right' ? component.box.width : component.box.height;
  return {
    defect: 'border',
    cells: component.cells,
    ...placeComponent(component, width),
    confidence: filling === 'invented' ? 0.7 : 0.9,
    rms: PLAIN_RMS,
    measurements: {
      depth: { value: 4 * across, unit: 'px' },
      filling: { value: FILLINGS.indexOf(filling), unit: FILLINGS.join(', ') },
    },
  };
}

const FILLINGS: readonly Filling[] = ['empty', 'mirrored', 'smeared', 'invented'];

interface Strip {
  readonly depth: number;
  readonly filling: Filling;
  /** Whether no frame reaches it. */
  readonly beyond: boolean;
}

/** The strip in a piece along an edge; null for none. */
function stripAt(evidence: Evidence, edge: Edge, { t0, t1 }: Window): Strip | null {
  const { level: levels } = evidence.of(rim);
  const level: LevelAt = (t, d) => levels[edge.at(t, d)]!;
  const most = Math.min(edge.deep, Math.floor(DEEPEST * edge.wholeDeep));
  const beyond = unreachedDepth(evidence, edge, t0, t1, most);
  if (beyond >= THINNEST) {
    return { depth: beyond, filling: fillingOf(edge, t0, t1, beyond, level) ?? 'invented', beyond: true };
  }
  const even = evenDepth(evidence, edge, t0, t1, most);
  if (even >= THINNEST && isOfNoFrame(evidence, edge, t0, t1, even))
    return { depth: even, filling: 'empty', beyond: false };
  const depth = unexplainedDepth(evidence, edge, t0, t1, most);
  // The comparison with the frames reaches a few cells into what is right.
  for (let d = depth; d >= Math.max(THINNEST, depth - REACH); d--) {
    const filling = fillingOf(edge, t0, t1, d, level);
    if (filling === 'empty' && !isOfNoFrame(evidence, edge, t0, t1, d)) return null;
    if (filling) return { depth: d, filling, beyond: false };
  }
  return null;
}

/** Tone of the merge at a place along an edge and a depth, cells. */
type LevelAt = (t: number, d: number) => number;

/** Lines from the edge of which most cells are covered by no frame. */
function unreachedDepth(evidence: Evidence, edge: Edge, t0: number, t1: number, most: number): number {
  const { reached } = evidence.of(rim);
  let depth = 0;
  for (; depth < most; depth++) {
    let missing = 0;
    for (let t = t0; t < t1; t++) missing += reached[edge.at(t, depth)] ? 0 : 1;
    if (missing < (t1 - t0) / 2) break;
  }
  return depth;
}

/** A camera's noise alone makes means of neighbouring cells differ by more than this: an eighth of a level of 255. */
const NO_NOISE = 0.0005;
/** What is clipped is even, too. */
const HIGHLIGHT_CLIPPED = 0.97;

/** Lines from the edge that hold not even noise, where frames have detail; 0 where that does not end within what is looked at. */
function evenDepth(evidence: Evidence, edge: Edge, t0: number, t1: number, most: number): number {
  const { level } = evidence.of(rim);
  const { significant } = evidence.of(sharpness);
  const first = level[edge.at(t0, 0)]!;
  if (first > HIGHLIGHT_CLIPPED) return 0;
  for (let d = 0; d < most; d++) {
    let [even, telling] = [0, 0];
    for (let t = t0; t < t1; t++) {
      const i = edge.at(t, d);
      even += Math.abs(level[i]! - first) < NO_NOISE ? 1 : 0;
      telling += significant[i]!;
    }
    if (even < t1 - t0) return d;
    if (telling < (t1 - t0) / 2) return 0;
  }
  return 0;
}

/** Whether a strip differs from all frames in tone: compression leaves skies and backdrops as even as what is empty. */
function isOfNoFrame(evidence: Evidence, edge: Edge, t0: number, t1: number, depth: number): boolean {
  const { apart } = evidence.of(rim);
  let other = 0;
  for (let t = t0; t < t1; t++) for (let d = 0; d < depth; d++) if (apart[edge.at(t, d)]! > OTHER_TONE) other += 1;
  return other >= (depth * (t1 - t0)) / 2;
}

/** Lines from the edge whose telling cells are mostly unexplained, with an explained line behind them. */
function unexplainedDepth(evidence: Evidence, edge: Edge, t0: number, t1: number, most: number): number {
  const { label } = evidence.of(explanation);
  const { significant } = evidence.of(sharpness);
  let [depth, silent] = [0, 0];
  for (let d = 0; d < most; d++) {
    let [telling, odd, none] = [0, 0, 0];
    for (let t = t0; t < t1; t++) {
      const i = edge.at(t, d);
      if (label[i] === NONE_OF_THEM) none += 1;
      if (!significant[i]) continue;
      telling += 1;
      if (label[i] === NONE_OF_THEM) odd += 1;
    }
    // Where the frames hold little, nearly all cells must be strangers.
    if (telling < LEAST_TELLING && none > ALL_BUT * (t1 - t0)) {
      depth = d + 1;
      continue;
    }
    if (telling < LEAST_TELLING) {
      silent += 1;
      if (silent > 2) return depth;
      continue;
    }
    if (odd < UNEXPLAINED * telling) return depth;
    depth = d + 1;
  }
  // All unexplained as far as is looked: that is no strip.
  return 0;
}

/** What a strip is filled with; null for a picture of its own. */
function fillingOf(edge: Edge, t0: number, t1: number, depth: number, level: LevelAt): Filling | null {
  let [across, along, acrossInside, n] = [0, 0, 0, 0];
  for (let t = t0; t + 1 < t1; t++) {
    for (let d = 0; d + 1 < depth; d++) {
      across += Math.abs(level(t, d + 1) - level(t, d));
      along += Math.abs(level(t + 1, d) - level(t, d));
      if (d + 2 + depth < edge.deep) acrossInside += Math.abs(level(t, d + 2 + depth) - level(t, d + 1 + depth));
      n += 1;
    }
  }
  if (n === 0) return null;
  [across, along, acrossInside] = [across / n, along / n, acrossInside / n];
  if (across < SAME_TONE / 2 && along < SAME_TONE / 2) return 'empty';
  if (across < Math.max(SAME_TONE / 4, 0.25 * along) && across < 0.5 * acrossInside) return 'smeared';
  const likeness = mirrorLikeness(edge, t0, t1, depth, level);
  // What is broad beside a strip this thin is like its own reflection anywhere.
  const isDeep = 4 * depth < edge.deep;
  const anywhere = isDeep ? mirrorLikeness(edge, t0, t1, depth, (t, d) => level(t, d + 2 * depth)) : -1;
  return likeness > MIRRORED && 1 - likeness < CLEARLY * (1 - anywhere) ? 'mirrored' : null;
}

/** Correlation of a strip with its reflection above which it is one … */
const MIRRORED = 0.7;
/** … and what it lacks of being one must be less than this share of what the picture farther in lacks of it. */
const CLEARLY = 0.5;
/** The reflection's axis is looked for about the strip's inner border, cells. */
const AXIS_REACH = 1.5;
const AXIS_STEP = 0.25;
/** Lines must be so far apart to tell, cells. */
const APART = 2;

/** Best correlation of the strip, its mean tone taken out per line, with what lies behind its inner border, reflected. */
function mirrorLikeness(edge: Edge, t0: number, t1: number, depth: number, level: LevelAt): number {
  const between = (t: number, d: number): number => {
    const lower = Math.max(0, Math.min(edge.deep - 2, Math.floor(d)));
    const s = Math.min(1, Math.max(0, d - lower));
    return (1 - s) * level(t, lower) + s * level(t, lower + 1);
  };
  let best = -1;
  for (let axis = depth - AXIS_REACH; axis <= depth + AXIS_REACH; axis += AXIS_STEP) {
    let [sa, sb, saa, sbb, sab, n] = [0, 0, 0, 0, 0, 0];
    for (let d = 0; d < Math.min(depth, axis); d++) {
      const mirrored = 2 * axis - 1 - d;
      // A line is like itself and its neighbour in any picture.
      if (mirrored >= edge.deep - 1 || mirrored - d < APART) continue;
      for (let t = t0; t < t1; t++) {
        const [a, b] = [level(t, d), between(t, mirrored)];
        sa += a;
        sb += b;
        saa += a * a;
        sbb += b * b;
        sab += a * b;
        n += 1;
      }
    }
    if (n < 2 * (t1 - t0)) continue;
    const [va, vb] = [saa - (sa * sa) / n, sbb - (sb * sb) / n];
    if (va > n * SAME_TONE ** 2 && vb > n * SAME_TONE ** 2)
      best = Math.max(best, (sab - (sa * sb) / n) / Math.sqrt(va * vb));
  }
  return best;
}

export const border: Detector = {
  defect: 'border',
  kinds: MERGE_KINDS,
  layers: [explanation, rim, sharpness],
  find: findBorders,
  isOfTone: true,
  donorBy: 'detail',
  mendsInParts: true,
  cause({ measurements, donor }) {
    const filling = FILLINGS[measurements['filling']?.value ?? 3]!;
    const words = {
      empty: 'The merge was left empty along this edge',
      mirrored: 'Along this edge the merge is its own mirror image',
      smeared: 'Along this edge the last line of the picture was drawn out',
      invented: 'No frame reaches this edge: what stands here was invented',
    }[filling];
    return donor === '' ? `${words}.` : `${words}, although ${donor} shows the place.`;
  },
  advice:
    'Crop to what the frames show, or paint in a frame that reaches it. Filling is a choice that belongs in the record.',
};
