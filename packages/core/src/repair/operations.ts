// Operations of a repair: records that act in order, and the name of the state in which they leave a part of the picture.
import { badParameter } from '../checks';
import type { Region } from '../image';
import { checkMaskChange, type MaskChange } from './changedMask';
import { checkPull, pullRegion, type Pull } from './pull';
import { drawnShape, layShape, shapeRegion, type MaskShape, type PictureShape, type StrokeShape } from './shapes';
import type { ToneField } from './toneField';

/** A mask over a better source. */
export interface OperationPart {
  /**
   * Index of the frame that is painted in; null for the merge: with a tone alone as it is then, evened; with a pull as it is then, pulled
   * about; else as it came, which takes earlier repairs back.
   */
  readonly donor: number | null;
  readonly shape: MaskShape;
  /**
   * How far from the place it is taken, px to the right and down. A frame is nudged by a few px to meet its surroundings; what the merge
   * itself fills from farther off is invented: no frame shows it there.
   */
  readonly shift?: readonly [number, number] | undefined;
  /** What brings the donor's tone to its surroundings; left out where it is taken as it is. */
  readonly tone?: ToneField | undefined;
  /** What of the picture as it is then is moved, and where to; the shape is where it reaches. */
  readonly pull?: Pull | undefined;
}

/** One act of repair: a mask over a source, and further ones where several sources each mend a part. */
export interface Operation extends OperationPart {
  /** Laid after the first, in order. */
  readonly also?: readonly OperationPart[] | undefined;
  /** How its masks were changed since; what it was made with stays in its parts. */
  readonly mask?: OperationMask | null | undefined;
}

/** A change of an operation's masks. */
export interface OperationMask extends MaskChange {
  /** Its mask as laid to the edges of the picture, in place of what was drawn. */
  readonly snapped: PictureShape | null;
}

/** Most px by which a frame may be nudged: farther off it shows another place. */
export const MOST_NUDGE_PX = 8;

/** Whether what a part shows is no frame's: taken from elsewhere in the merge. */
export function isInvented({ donor, shift }: Pick<OperationPart, 'donor' | 'shift'>): boolean {
  return donor === null && shift !== undefined;
}

/** Whether a part only evens the tone of what is there. */
export function isEvening({ donor, shift, tone }: Pick<OperationPart, 'donor' | 'shift' | 'tone'>): boolean {
  return donor === null && shift === undefined && tone !== undefined;
}

/** Whether a part only moves what is there. */
export function isPulled({ pull }: Pick<OperationPart, 'pull'>): boolean {
  return pull !== undefined;
}

/** Whether a part changes what is there instead of painting over it: it shows no source by itself. */
export function changesInPlace(part: Pick<OperationPart, 'donor' | 'shift' | 'tone' | 'pull'>): boolean {
  return isEvening(part) || isPulled(part);
}

/** A pull as an operation. */
export function pullOperation(pull: Pull): OperationPart & { readonly donor: null; readonly shape: StrokeShape } {
  const points = pull.knots.map(([x, y]) => [x, y] as const);
  return {
    donor: null,
    shape: { kind: 'stroke', points, sizePx: 2 * pull.reachPx, hardness: 1, strength: 1 },
    pull,
  };
}

/**
 * Checks a part before it is kept: what cannot be rendered would spoil every tile that it touches.
 * @throws ParameterError for a mask outside its ranges or that cannot be read, a pull that folds the picture over, or one that reaches
 *   beyond its shape, by which it is found
 */
export function checkPart({ shape, pull }: OperationPart): void {
  layShape(new Float32Array(1), { x: 0, y: 0, width: 1, height: 1 }, shape);
  if (!pull) return;
  checkPull(pull);
  const [own, moved] = [shapeRegion(shape), pullRegion(pull)];
  const holds =
    own.x <= moved.x &&
    own.y <= moved.y &&
    own.x + own.width >= moved.x + moved.width &&
    own.y + own.height >= moved.y + moved.height;
  if (!holds) throw badParameter('operation.shape', 'a mask over all that the pull reaches', own);
}

/**
 * Checks a change of an operation's masks before it is kept.
 * @throws ParameterError for one outside its ranges, or that such an operation does not bear
 */
export function checkMask(operation: Operation, mask: OperationMask): void {
  checkMaskChange(mask);
  const { growPx, insideOut, snapped } = mask;
  const parts = [operation, ...(operation.also ?? [])];
  if (parts.some(isPulled))
    throw badParameter('mask', 'an operation that paints: how far a pull reaches is its own', mask);
  // Parts would come apart, and the picture show between them.
  if (parts.length > 1 && (growPx < 0 || insideOut || snapped))
    throw badParameter('mask', 'growing and softening alone, for a repair in several parts', mask);
  if (insideOut && parts.some((p) => p.tone))
    throw badParameter('mask.insideOut', 'null where the tone was matched: it holds around the place alone', insideOut);
  if (snapped) layShape(new Float32Array(1), { x: 0, y: 0, width: 1, height: 1 }, snapped);
}

/** Parts of operations whose masks were changed, by the change; worked out once, since they are asked for with every tile. */
const CHANGED = new WeakMap<
  OperationMask,
  { readonly of: Operation['shape']; readonly parts: readonly OperationPart[] }
>();

/** All parts of an operation in the order in which they are laid, with their masks as they are now. */
export function partsOf(operation: Operation): readonly OperationPart[] {
  const made = [operation, ...(operation.also ?? [])];
  const { mask, shape } = operation;
  if (!mask) return made;
  const known = CHANGED.get(mask);
  if (known?.of === shape) return known.parts;
  const { snapped, ...change } = mask;
  const parts = made.map((part) => ({
    ...part,
    shape: { kind: 'changed' as const, of: snapped ?? drawnShape(part.shape), ...change },
  }));
  CHANGED.set(mask, { of: shape, parts });
  return parts;
}

/** An operation with its name and the part of the merge that it can touch. */
export interface PlacedOperation extends Operation {
  readonly id: string;
  readonly region: Region;
}

/** State of a part that nothing touches. */
export const UNTOUCHED = '0';

/** Resampling of a reduced tile reads so many of its px beyond it. */
const MARGIN_TILE_PX = 4;

/** Regions by an operation's shape, or the change of its masks: neither is ever altered, and a polyline may have thousands of points. */
const REGIONS = new WeakMap<MaskShape | OperationMask, Region>();

/** The part of the merge an operation can touch, merge px. */
export function operationRegion(operation: Operation): Region {
  const key = operation.mask ?? operation.shape;
  const known = REGIONS.get(key);
  if (known) return known;
  const boxes = partsOf(operation).map(({ shape }) => shapeRegion(shape));
  const [x, y] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))];
  const region = {
    ...{ x, y },
    width: Math.max(...boxes.map((b) => b.x + b.width)) - x,
    height: Math.max(...boxes.map((b) => b.y + b.height)) - y,
  };
  REGIONS.set(key, region);
  return region;
}

/** An operation with the part of the merge that it can touch, worked out once. */
export function placeOperation<O extends Operation & { readonly id: string }>(operation: O): O & PlacedOperation {
  return { ...operation, region: operationRegion(operation) };
}

/** The operations that can change a part of the merge, or what lies within a margin of it; all in merge px. */
export function operationsReaching<O extends { readonly region: Region }>(
  operations: readonly O[],
  part: Region,
  marginPx: number,
): O[] {
  return operations.filter(
    ({ region }) =>
      region.x < part.x + part.width + marginPx &&
      part.x - marginPx < region.x + region.width &&
      region.y < part.y + part.height + marginPx &&
      part.y - marginPx < region.y + region.height,
  );
}

/** The operations that show in a tile of the part, `tileWidth` px wide. */
export function operationsInTile<O extends { readonly region: Region }>(
  operations: readonly O[],
  part: Region,
  tileWidth: number,
): O[] {
  return operationsReaching(operations, part, (MARGIN_TILE_PX * part.width) / tileWidth);
}

/**
 * Names the state of a tile: two states with the same name show the same pixels, whatever happened elsewhere. Server and
 * pages work it out by themselves and have to agree.
 * @param operations in force, in the order in which they act
 * @param tileWidth px of the tile that shows the part
 * @returns "0" while nothing reaches the tile, else 64 bits of a hash over the names of those that do
 */
export function tileState(
  operations: readonly Pick<PlacedOperation, 'id' | 'region' | 'mask'>[],
  part: Region,
  tileWidth: number,
): string {
  const reaching = operationsInTile(operations, part, tileWidth);
  return reaching.length === 0 ? UNTOUCHED : hashNames(reaching.map(nameOf));
}

const MASK_NAMES = new WeakMap<OperationMask, string>();

/** An operation's name, with how its masks were changed. */
function nameOf({ id, mask }: Pick<PlacedOperation, 'id' | 'mask'>): string {
  if (!mask) return id;
  const known = MASK_NAMES.get(mask);
  if (known !== undefined) return `${id}:${known}`;
  const { growPx, softenPx, strength, insideOut, snapped } = mask;
  const box = (b: Region | null | undefined): number[] => (b ? [b.x, b.y, b.width, b.height] : []);
  const facts = [growPx, softenPx, strength, '/', ...box(insideOut), '/', ...box(snapped?.box), snapped?.packed ?? ''];
  const name = hashNames(facts.map(String));
  MASK_NAMES.set(mask, name);
  return `${id}:${name}`;
}

/** Two FNV-1a hashes of 32 bits with different beginnings (Fowler, Noll and Vo), as 16 hexadecimal digits. */
function hashNames(names: readonly string[]): string {
  let a = 0x811c9dc5;
  let b = 0x01000193;
  for (const char of names.join(' ')) {
    const code = char.codePointAt(0)!;
    a = Math.imul(a ^ code, 0x01000193);
    b = Math.imul(b ^ (code + 0x9e37), 0x01000193);
  }
  return [a, b].map((h) => (h >>> 0).toString(16).padStart(8, '0')).join('');
}
