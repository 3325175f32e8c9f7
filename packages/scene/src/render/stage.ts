// What is rendered: a world at a scale, an exposure of it, and the light that results.
import type { Region } from '@blendrak/core/image';
import type { ThinLens } from '../optics/lens';
import type { View } from '../optics/view';
import type { World } from '../world/layer';

/** A world and how large its units appear. */
export interface Stage {
  readonly world: World;
  /** Tangent per scene unit, as seen from the world's own viewpoint. */
  readonly tangentPerUnit: number;
  /**
   * Scene units of one px at the merge's magnification: the finest texture. The same for all frames of a set, for a thing's
   * texture must not depend on how it is looked at.
   */
  readonly grainUnits: number;
}

/** What the shutter lets in. */
export interface Exposure {
  readonly view: View;
  readonly lens: ThinLens;
  /** Focus distance; null renders everything sharp. */
  readonly focusMm: number | null;
  readonly startS: number;
  readonly shutterS: number;
}

/** Linear light of a region, in units of white at the nominal exposure. */
export interface Light {
  readonly region: Region;
  readonly r: Float32Array;
  readonly g: Float32Array;
  readonly b: Float32Array;
  /** Depth in mm of the nearest thing that covers a pixel by half. */
  readonly depthMm: Float32Array;
  /** Index of that layer in the world. */
  readonly layer: Uint8Array;
}

/** Which blocks of an area still matter: light gets through to them, or to a neighbour within the blur's reach. */
export interface OpenBlocks {
  readonly any: boolean;
  readonly across: number;
  readonly size: number;
  readonly flags: Uint8Array;
}
