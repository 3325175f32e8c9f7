// One pass over a merge: all layers that the detectors of its kind ask for, region by region, joined to evidence of the whole.
import { badParameter } from '../checks';
import type { CellStack, WorkingPx } from '../cells';
import type { Region } from '../image';
import { CELL_PX } from '../kernels';
import type { Evidence } from './detector';
import { explanation } from './layers/explanation';
import type { Layer, LayerMaps, MergeKind, RegionView, SetFacts, SizedGeometry, SurveyedFrame } from './layers/layer';
import { DETECTORS } from './registry';

/** The layers that a kind of merge is inspected by, each after those it needs. */
export function layersOf(kind: MergeKind): Layer<LayerMaps>[] {
  const out: Layer<LayerMaps>[] = [];
  const add = (layer: Layer<LayerMaps>): void => {
    if (out.includes(layer) || !layer.kinds.includes(kind)) return;
    layer.needs.forEach(add);
    out.push(layer);
  };
  add(explanation);
  DETECTORS.filter((d) => d.kinds.includes(kind)).forEach((d) => d.layers.forEach(add));
  return out;
}

/** Whether merges of a kind are compared with their frames in whatever tone: those whose tones no one curve relates. */
export function isRelated(kind: MergeKind): boolean {
  return kind !== 'focus-stack';
}

/** Maps of all layers over one grid of cells, by the layer's name. */
export interface EvidenceMaps {
  readonly width: number;
  readonly height: number;
  readonly layers: Readonly<Record<string, LayerMaps>>;
}

/** What one region gives. */
export interface RegionEvidence {
  readonly maps: EvidenceMaps;
  /** For the yardsticks, by layer. */
  readonly samples: Readonly<Record<string, unknown>>;
}

/** What layers that narrow their search look for, by layer. */
export type Looking = Readonly<Record<string, unknown>>;

/** The yardsticks of a picture by layer; plain data. */
export type Yardsticks = Readonly<Record<string, unknown>>;

/** Maps with nothing in them. */
export function emptyEvidence(kind: MergeKind, width: number, height: number): EvidenceMaps {
  const layers = Object.fromEntries(layersOf(kind).map((layer) => [layer.name, layer.empty(width * height)]));
  return { width, height, layers };
}

/**
 * Measures all layers of a kind in a region.
 * @param stack cells of the merge and the frames; with relations for kinds that are related
 * @param looking for layers that narrow their search; default everything
 * @returns maps of the stack's cells; nothing for a stack without a merge
 * Cost: about 1 µs per cell and 0.1 µs per cell and frame.
 */
export function measureRegion(stack: CellStack, facts: SetFacts, looking: Looking = {}): RegionEvidence {
  const { width, height } = stack;
  if (!stack.merge) return { maps: emptyEvidence(facts.kind, width, height), samples: {} };
  const layers: Record<string, LayerMaps> = {};
  const samples: Record<string, unknown> = {};
  const view: RegionView = {
    stack,
    facts,
    of: (layer) => mapsOf(layers, layer),
    survey<V>({ name }: Layer<LayerMaps, unknown, unknown, V>) {
      return (facts.surveys[name] ?? null) as V | null;
    },
    focus<H>({ name }: Layer<LayerMaps, unknown, unknown, unknown, H>) {
      return (looking[name] ?? null) as H | null;
    },
  };
  for (const layer of layersOf(facts.kind)) {
    const measured = layer.measure(view);
    layers[layer.name] = measured.maps;
    samples[layer.name] = measured.samples;
  }
  return { maps: { width, height, layers }, samples };
}

/**
 * A layer's maps among those of all; by its name they are what its `empty` and `measure` made.
 * @throws ParameterError for a layer that was not computed
 */
function mapsOf<M extends LayerMaps>(layers: Readonly<Record<string, LayerMaps>>, layer: Layer<M>): M {
  const maps = layers[layer.name];
  if (!maps) throw badParameter('evidence.of.layer', Object.keys(layers).join(', '), layer.name);
  return maps as M;
}

/** Copies the inner part of a region's maps into the whole picture's. */
export function placeEvidence(whole: EvidenceMaps, part: EvidenceMaps, partRegion: Region, inner: Region): void {
  const x0 = inner.x / CELL_PX;
  const y0 = inner.y / CELL_PX;
  const w = inner.width / CELL_PX;
  const dx = (inner.x - partRegion.x) / CELL_PX;
  const dy = (inner.y - partRegion.y) / CELL_PX;
  for (const [name, maps] of Object.entries(whole.layers)) {
    for (const [key, to] of Object.entries(maps)) {
      const from = part.layers[name]?.[key];
      if (!from) continue;
      for (let y = 0; y < inner.height / CELL_PX; y++) {
        const start = (dy + y) * part.width + dx;
        to.set(from.subarray(start, start + w), (y0 + y) * whole.width + x0);
      }
    }
  }
}

/** The picture's own yardsticks, from the samples of all regions; the order does not matter. */
export function calibrate(kind: MergeKind, samples: readonly RegionEvidence['samples'][]): Yardsticks {
  return Object.fromEntries(
    layersOf(kind).map((layer) => [layer.name, layer.calibrate(samples.map((s) => s[layer.name]))]),
  );
}

/** What to look for at first, by layer. */
export function startLooking(kind: MergeKind): Looking {
  return Object.fromEntries(layersOf(kind).flatMap((l) => (l.narrowing ? [[l.name, l.narrowing.start]] : [])));
}

/** What is left to look for, from the samples so far. */
export function narrowLooking(kind: MergeKind, now: Looking, seen: readonly RegionEvidence['samples'][]): Looking {
  return Object.fromEntries(
    layersOf(kind).flatMap(({ name, narrowing }) =>
      narrowing
        ? [
            [
              name,
              narrowing.narrow(
                now[name],
                seen.map((s) => s[name]),
              ),
            ],
          ]
        : [],
    ),
  );
}

/** What the yardsticks ask to be looked for; null when that was done. */
export function missedLooking(kind: MergeKind, looked: Looking, yardsticks: Yardsticks): Looking | null {
  const wanted = wantedLooking(kind, yardsticks);
  const isMissed = layersOf(kind).some(
    ({ name, narrowing }) => narrowing && !narrowing.covers(looked[name], wanted[name]),
  );
  return isMissed ? wanted : null;
}

/** What is to be looked for once the yardsticks are known. */
export function wantedLooking(kind: MergeKind, yardsticks: Yardsticks): Looking {
  return Object.fromEntries(
    layersOf(kind).flatMap(({ name, narrowing }) => (narrowing ? [[name, narrowing.wanted(yardsticks[name])]] : [])),
  );
}

/** Whether frames are looked at by themselves before the pass. */
export function hasSurveys(kind: MergeKind): boolean {
  return layersOf(kind).some((layer) => layer.survey);
}

/** One frame as the surveys of all layers see it, by layer. */
export function surveyFrame(kind: MergeKind, frame: SurveyedFrame): Readonly<Record<string, unknown>> {
  return Object.fromEntries(layersOf(kind).flatMap(({ name, survey }) => (survey ? [[name, survey.look(frame)]] : [])));
}

/**
 * What the surveys of all frames found, by layer.
 * @param looks one per frame; null for frames that were not looked at
 * @param frames all of the set
 */
export function joinSurveys(
  kind: MergeKind,
  looks: readonly (Readonly<Record<string, unknown>> | null)[],
  frames: readonly SizedGeometry[],
  working: WorkingPx,
): SetFacts['surveys'] {
  return Object.fromEntries(
    layersOf(kind).flatMap(({ name, survey }) =>
      survey
        ? [
            [
              name,
              survey.join(
                looks.map((look) => look && look[name]),
                frames,
                working,
              ),
            ],
          ]
        : [],
    ),
  );
}

/**
 * Evidence as detectors read it.
 * @param picture the whole picture's size and where the maps begin in it, cells, when they are of a part of it; default all of it
 */
export function evidenceOf(
  maps: EvidenceMaps,
  facts: SetFacts,
  yardsticks: Yardsticks,
  picture: Region = { x: 0, y: 0, width: maps.width, height: maps.height },
): Evidence {
  const { width, height, layers } = maps;
  return {
    width,
    height,
    picture,
    facts,
    of: (layer) => mapsOf(layers, layer),
    knows: ({ name }) => name in yardsticks,
    yardstick: <M extends LayerMaps, S, C>(layer: Layer<M, S, C>): C => {
      if (!(layer.name in yardsticks))
        throw badParameter('evidence.yardstick.layer', Object.keys(yardsticks).join(', '), layer.name);
      return yardsticks[layer.name] as C;
    },
  };
}
