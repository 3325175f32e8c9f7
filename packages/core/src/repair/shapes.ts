// Shapes of masks, by kind: where each can reach, and how it is laid. A new shape is a file of its own and a line here.
import type { Region } from '../image';
import { changedRegion, layChanged, type MaskChange } from './changedMask';
import { fadeRegion, layFade, type Fade } from './fades';
import { layMaskPicture, type MaskPicture } from './maskPicture';
import { layOutline, outlineRegion, type Outline } from './outlines';
import { layStroke, strokeRegion, type Stroke } from './strokes';

/** A brush stroke as a mask. */
export interface StrokeShape extends Stroke {
  readonly kind: 'stroke';
}

/** What an outline encloses as a mask. */
export interface OutlineShape extends Outline {
  readonly kind: 'outline';
}

/** A straight fade as a mask. */
export interface FadeShape extends Fade {
  readonly kind: 'fade';
}

/** A picture of a mask that was made elsewhere. */
export interface PictureShape extends MaskPicture {
  readonly kind: 'picture';
}

/** A mask as it is drawn. */
export type DrawnShape = StrokeShape | OutlineShape | FadeShape | PictureShape;

/** A drawn mask, changed since. */
export interface ChangedShape extends MaskChange {
  readonly kind: 'changed';
  readonly of: DrawnShape;
}

export type MaskShape = DrawnShape | ChangedShape;

interface ShapeKind<S extends MaskShape> {
  readonly region: (shape: S) => Region;
  readonly lay: (mask: Float32Array, region: Region, shape: S, scale?: number) => void;
}

const SHAPES: { readonly [K in MaskShape['kind']]: ShapeKind<Extract<MaskShape, { kind: K }>> } = {
  stroke: { region: strokeRegion, lay: layStroke },
  outline: { region: outlineRegion, lay: layOutline },
  fade: { region: fadeRegion, lay: layFade },
  picture: { region: ({ box }) => box, lay: layMaskPicture },
  changed: {
    region: (shape) => changedRegion(shapeRegion(shape.of), shape),
    lay: (mask, region, shape, scale) =>
      layChanged(mask, region, shape, (drawn, wide) => layShape(drawn, wide, shape.of, scale), scale),
  },
};

/** The entry of a shape's kind; each kind's functions take shapes of that kind alone. */
function kindOf<S extends MaskShape>(shape: S): ShapeKind<S> {
  return SHAPES[shape.kind] as unknown as ShapeKind<S>;
}

/** A mask as it was drawn, whatever was changed since. */
export function drawnShape(shape: MaskShape): DrawnShape {
  return shape.kind === 'changed' ? shape.of : shape;
}

/** The part of the merge a shape can touch, merge px. */
export function shapeRegion(shape: MaskShape): Region {
  return kindOf(shape).region(shape);
}

/**
 * Lays a shape into a mask (see `layStroke`): the mask becomes the larger of itself and the shape.
 * @param mask region.width × region.height values 0..1, changed in place
 * @param region part of the merge the mask covers, in units of `scale` merge px
 * @throws ParameterError for a shape outside its ranges
 */
export function layShape(mask: Float32Array, region: Region, shape: MaskShape, scale = 1): void {
  kindOf(shape).lay(mask, region, shape, scale);
}
