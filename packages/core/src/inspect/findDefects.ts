// All detectors of a kind over one set of evidence, overlaps settled, large findings in parts.
import { arbitrate } from './arbitrate';
import type { Detection } from './detection';
import type { Detector, Evidence } from './detector';
import type { Layer, LayerMaps, MergeKind } from './layers/layer';
import { DETECTORS } from './registry';
import { splitLarge } from './splitLarge';

/** A finding is for looking at: a defect whose box covers more of the picture than this comes in parts. */
const LARGEST_SHARE = 0.2;

/** The detectors of a kind, of those whose layers were measured. */
export function detectorsFor(kind: MergeKind, isKnown: (layer: Layer<LayerMaps>) => boolean): Detector[] {
  return DETECTORS.filter(
    (d) => d.kinds.includes(kind) && d.layers.every((layer) => !layer.kinds.includes(kind) || isKnown(layer)),
  );
}

/** Detections of all defects that this kind of merge can have, each place claimed once. */
export function findDefects(evidence: Evidence): Detection[] {
  const { width, height, picture, facts } = evidence;
  const found = detectorsFor(facts.kind, (layer) => evidence.knows(layer)).flatMap((d) => d.find(evidence));
  return arbitrate(found, width).flatMap((d) =>
    splitLarge(d, picture.width * picture.height * LARGEST_SHARE, width, height),
  );
}
