// Layer: colour beside edges that the other frames, as sharp there, do not have.
import { cellLuma, cellTent, type CellPicture, type CellStack } from '../../cells';
import { explanation } from './explanation';
import type { Layer } from './layer';

export interface ColourEdgesMaps extends Readonly<Record<string, Float32Array>> {
  /** RMS of colour (R − G and B − G) around edges that the merge has beyond another frame as sharp; 0 where none can tell. */
  readonly excess: Float32Array;
}

/** Edges: luma varies around a cell by this much, encoded². */
const EDGE = 9e-4;
/** Another frame tells when it has this share of the detail of the one shown. */
const AS_SHARP = 0.5;
/** Colour against luma may be so many times that of the other frame without being a fringe. */
const IN_MEASURE = 1.5;
/** Its luma may differ by this share of the colour in question: where more differs, more than colour is wrong. */
const SAME_FORMS = 1;

export const colourEdges: Layer<ColourEdgesMaps, null, null> = {
  name: 'colourEdges',
  kinds: ['focus-stack', 'panorama'],
  needs: [explanation],
  empty: (cells) => ({ excess: new Float32Array(cells) }),
  measure(view) {
    const { stack } = view;
    const { width, height, frames } = stack;
    const merge = stack.merge!;
    const maps = this.empty(width * height);
    const { closest } = view.of(explanation);
    const { textureAt } = cellTent(width, height);
    const own = colourOf(merge);
    const others = frames.map((f) => (hasPicture(f) ? colourOf(f) : null));
    const differs = new Float32Array(width * height);
    const excess = maps.excess;
    const known = new Uint8Array(width * height);
    // Of the merge both are the same whichever frame they are held against.
    const ownForms = new Float32Array(width * height).fill(-1);
    const ownColour = new Float32Array(width * height).fill(-1);
    for (let k = 0; k < frames.length; k++) {
      const frame = frames[k]!;
      const theirs = others[k];
      if (!theirs) continue;
      for (let i = 0; i < differs.length; i++) differs[i] = own.luma[i]! - theirs.luma[i]!;
      for (let i = 0; i < differs.length; i++) {
        // What one frame has as well is no fringe, whatever the others say; and what is quick to tell is asked first.
        if (k === closest[i] || !merge.valid[i] || (known[i] && excess[i] === 0)) continue;
        if (frame.middle[i]! < AS_SHARP * frames[closest[i]!]!.middle[i]!) continue;
        if (ownForms[i]! < 0) ownForms[i] = textureAt(own.luma, i);
        const forms = ownForms[i]!;
        if (forms < EDGE || !tells(stack, k, i) || !tells(stack, closest[i]!, i)) continue;
        if (ownColour[i]! < 0) ownColour[i] = textureAt(own.warm, i) + textureAt(own.cool, i);
        const colour = ownColour[i]!;
        const there = textureAt(theirs.warm, i) + textureAt(theirs.cool, i);
        // What is softer, or darker, has less colour at its edges in the same measure.
        const stronger = Math.max(1, forms / Math.max(1e-9, textureAt(theirs.luma, i)));
        const beyond = Math.max(0, colour - IN_MEASURE * stronger * there);
        const value = beyond === 0 || textureAt(differs, i) > SAME_FORMS * beyond ? 0 : beyond;
        if (!known[i] || value < excess[i]!) excess[i] = value;
        known[i] = 1;
      }
    }
    for (let i = 0; i < excess.length; i++) excess[i] = Math.sqrt(excess[i]! / 2);
    return { maps, samples: null };
  },
  calibrate: () => null,
};

function hasPicture({ valid }: CellPicture): boolean {
  return valid.includes(1);
}

/** Whether a frame shows a cell and all around it: beside what is clipped the rest of a colour is left. */
function tells({ frames, width }: CellStack, k: number, i: number): boolean {
  const { valid, relation } = frames[k]!;
  const told = relation ? relation.telling : valid;
  const [above, below] = [i - 2 * width, i + 2 * width];
  return told[i] === 1 && told[above] === 1 && told[below] === 1 && told[i - 2] === 1 && told[i + 2] === 1;
}

/** Luma, R − G and B − G of a picture's cells. */
function colourOf(picture: CellPicture): Record<'luma' | 'warm' | 'cool', Float32Array> {
  const [r, g, b] = picture.mean;
  return {
    luma: cellLuma(picture),
    warm: r.map((v, i) => v - g[i]!),
    cool: b.map((v, i) => v - g[i]!),
  };
}
