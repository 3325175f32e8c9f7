// Layer: which frame each cell shows.
import { explainCells, NONE_OF_THEM } from '../../provenance';
import { MERGE_KINDS, type Layer } from './layer';

export type ExplanationMaps = Readonly<Record<'label' | 'closest' | 'second' | 'share' | 'confidence', Uint8Array>>;

/** Shares and confidences are kept in bytes: 255 is 1. */
const bytes = (values: Float32Array): Uint8Array => Uint8Array.from(values, (v) => Math.round(255 * v));

/** Frame shown (255 none of them), closest, second, the second's share, and how sure that is: 5 bytes per cell. */
export const explanation: Layer<ExplanationMaps, null, null> = {
  name: 'explanation',
  kinds: MERGE_KINDS,
  needs: [],
  empty: (cells) => ({
    label: new Uint8Array(cells).fill(NONE_OF_THEM),
    closest: new Uint8Array(cells),
    second: new Uint8Array(cells).fill(NONE_OF_THEM),
    share: new Uint8Array(cells),
    confidence: new Uint8Array(cells),
  }),
  measure({ stack }) {
    const { labels, closest, second, share, confidence } = explainCells(stack);
    const maps = { label: labels, closest, second, share: bytes(share), confidence: bytes(confidence) };
    return { maps, samples: null };
  },
  calibrate: () => null,
};
