// What can be chosen for a merge, in words, and how the choices begin.
import {
  mergeOptionsSchema,
  type AreaShapes,
  type Merge,
  type MergeFacts,
  type MergeSettings,
} from '@blendrak/contract';

export const CHOICES = {
  stackMethod: [
    ['labels', 'Sharpest frame, few borders'],
    ['reference', 'Reference, others where it lacks'],
    ['bands', 'Band by band, without borders'],
    ['gradient', 'Straight gradients'],
  ],
  projection: [
    ['auto', 'The one that bends least'],
    ['flat', 'Flat: lines stay straight'],
    ['cylindrical', 'Cylinder: uprights stay upright'],
    ['spherical', 'Sphere: for tall, wide sets'],
    ['repositioned', 'Unbent: frames only shifted and turned'],
  ],
  method: [
    ['fusion', 'Fusion by exposure'],
    ['light', 'As light, then one tone curve'],
    ['gradient', 'Straight gradients'],
    ['painted', 'Painted parts from other frames'],
  ],
} as const;

/** What is painted in from a frame. */
export function shapesFrom(parts: MergeSettings['parts'], frame: number): AreaShapes {
  return parts.find((p) => p.frame === frame)?.shapes ?? [];
}

/** The parts with another one of a frame; none when nothing is marked. */
export function withPart(parts: MergeSettings['parts'], frame: number, shapes: AreaShapes): MergeSettings['parts'] {
  const others = parts.filter((p) => p.frame !== frame);
  return shapes.length === 0 ? others : [...others, { frame, shapes }];
}

/** The exposure of a bracket's frame; empty where exposures are not what tells frames apart. */
export function exposureWords(facts: MergeFacts, frame: number): string {
  const ev = facts.kind === 'bracket' ? facts.evs[frame] : undefined;
  return ev === undefined ? '' : `${ev > 0 ? '+' : ''}${ev.toFixed(1)} EV`;
}

type Gradient = MergeSettings['gradients'][number];

/** As the last merge was made, or as usual. */
export function startSettings(merge: Merge | null): MergeSettings {
  return merge?.options ?? mergeOptionsSchema.parse({});
}

/** Level lines that share the height evenly: the first frame on top. */
export function gradientsFor(frames: number): Gradient[] {
  return Array.from({ length: Math.max(0, frames - 1) }, (_, n) => ({
    x: 0.5,
    y: (n + 1) / frames,
    angleDeg: 90,
    width: 0.2,
  }));
}

const LIMITS = { y: [0, 1], angleDeg: [-360, 360], width: [0.005, 2] } as const;

/** One number of one line changed, kept within what is accepted. */
export function changeGradient(
  gradients: readonly Gradient[],
  index: number,
  key: keyof typeof LIMITS,
  value: number,
): Gradient[] {
  const [low, high] = LIMITS[key];
  const kept = Number.isFinite(value) ? Math.min(high, Math.max(low, value)) : low;
  return gradients.map((g, n) => (n === index ? { ...g, [key]: kept } : g));
}
