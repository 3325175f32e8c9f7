// The repaired picture, region by region: the merge with each operation's donor painted in, in order.
import type { Region } from '../image';
import { allocPlanes, blendMasked, planeView, type KernelPlanes, type Kernels } from '../kernels';
import { type AlignedFrame, warpFrame } from '../frame';
import { changesInPlace, isEvening, isPulled, partsOf, type Operation, type OperationPart } from './operations';
import { pullLength, pullPlanes } from './pull';
import { drawnShape, layShape, shapeRegion, type MaskShape } from './shapes';
import { addToneField } from './toneField';

/**
 * Renders a region of the repaired picture.
 * @param base the merge as a frame (identity transform and tone)
 * @param operations in the order in which they act; those whose donor is not among the frames are left out
 * @param region in merge px divided by scale
 * @param scale merge px per result px, 1 or more
 * @returns planes R, G, B, valid in kernel memory
 * Cost: 5 ns per px for the base at full size, 50 ns per px of the box that operations touch, per donor.
 */
export function renderRepair(
  kernels: Kernels,
  base: AlignedFrame,
  frames: readonly AlignedFrame[],
  operations: readonly Operation[],
  region: Region,
  scale = 1,
): KernelPlanes {
  return renderParts(kernels, base, frames, operations.flatMap(partsOf), region, scale);
}

function renderParts(
  kernels: Kernels,
  base: AlignedFrame,
  frames: readonly AlignedFrame[],
  parts: readonly OperationPart[],
  region: Region,
  scale: number,
): KernelPlanes {
  const last = parts.findLastIndex((part) => isPulled(part) && touches(shapeRegion(part.shape), region, scale));
  const { pull } = parts[last] ?? {};
  if (!pull) {
    const out = warpFrame(kernels, base, region, scale);
    layParts(kernels, out, base, frames, parts, region, scale);
    return out;
  }
  // What is pulled comes from beyond the region, so far as it moves: as the picture is there before.
  const out = allocPlanes(kernels, region.width, region.height, PLANES);
  kernels.scope(() => {
    const margin = Math.ceil(pullLength(pull) / scale) + CUBIC_PX;
    const from = reachedBy(base, region, margin, scale);
    const before = renderParts(kernels, base, frames, parts.slice(0, last), from, scale);
    const [x, y] = cornerIn(from, region);
    copyRows(kernels, before, x, y, out, 0, 0, region.width, region.height);
    const views = (planes: KernelPlanes): Float32Array[] => [0, 1, 2].map((c) => planeView(kernels, planes, c));
    pullPlanes(views(before), from, views(out), region, pull, scale);
  });
  layParts(kernels, out, base, frames, parts.slice(last + 1), region, scale);
  return out;
}

/** R, G, B, and where the picture holds. */
const PLANES = 4;
/** A cubic reads so many px beyond the place. */
const CUBIC_PX = 2;

/** A region with a margin, of which nothing lies beyond the picture that does not do so without it. */
function reachedBy({ source }: AlignedFrame, region: Region, margin: number, scale: number): Region {
  const { x, y, width, height } = region;
  const left = Math.min(margin, Math.max(0, Math.floor(x)));
  const top = Math.min(margin, Math.max(0, Math.floor(y)));
  const right = Math.min(margin, Math.max(0, Math.floor(source.width / scale - x - width)));
  const bottom = Math.min(margin, Math.max(0, Math.floor(source.height / scale - y - height)));
  return { x: x - left, y: y - top, width: width + left + right, height: height + top + bottom };
}

/** Whether operations can be laid over a region that was rendered without them: a pull has to see what lies beyond it. */
export function canGoOn(operations: readonly Operation[]): boolean {
  return !operations.flatMap(partsOf).some(isPulled);
}

/**
 * Lays operations over a region that has been rendered as far as those before them: rendering can go on where it ended.
 * @param out planes R, G, B of the region, changed in place
 * @param operations none of which pulls (see `canGoOn`)
 */
export function layOperations(
  kernels: Kernels,
  out: KernelPlanes,
  base: AlignedFrame,
  frames: readonly AlignedFrame[],
  operations: readonly Operation[],
  region: Region,
  scale = 1,
): void {
  layParts(kernels, out, base, frames, operations.flatMap(partsOf), region, scale);
}

function layParts(
  kernels: Kernels,
  out: KernelPlanes,
  base: AlignedFrame,
  frames: readonly AlignedFrame[],
  parts: readonly OperationPart[],
  region: Region,
  scale: number,
): void {
  const touching = parts.filter((part) => !isPulled(part) && touches(shapeRegion(part.shape), region, scale));
  const shared = warpShared(kernels, base, frames, touching, region, scale);
  // Neighbouring operations with the same donor share its resampled pixels.
  for (let i = 0; i < touching.length;) {
    const { donor, tone, shift } = touching[i]!;
    let end = i + 1;
    while (isPlain(touching[i]!) && end < touching.length && touching[end]!.donor === donor && isPlain(touching[end]!))
      end++;
    const source = donor === null ? base : frames[donor];
    const isEvened = isEvening(touching[i]!);
    const shapes = touching.slice(i, end).map((o) => o.shape);
    i = end;
    if (!source) continue;
    const box = boxOf(shapes, region, scale);
    kernels.scope(() => {
      const part = cutPlanes(kernels, out, region, box);
      const whole = shift || isEvened ? undefined : shared.get(donor);
      const warped = isEvened
        ? cutPlanes(kernels, out, region, box)
        : whole
          ? cutPlanes(kernels, whole.planes, whole.box, box)
          : warpSource(kernels, source, shift, box, scale);
      // The tone was found for the mask as it was drawn; its outermost values hold beyond.
      if (tone) addToneField(kernels, warped, box, tone, shapeRegion(drawnShape(shapes[0]!)), scale);
      paint(kernels, part, warped, shapes, box, scale);
      pastePlanes(kernels, part, box, out, region);
    });
  }
}

/** Whether a part takes its donor as it is and where it lies: those next to each other are laid together. */
function isPlain({ tone, shift }: OperationPart): boolean {
  return !tone && !shift;
}

/**
 * A donor as an operation takes it: where it lies, or from some way off.
 * @param shift merge px
 * @param region in merge px divided by scale
 */
export function warpSource(
  kernels: Kernels,
  source: AlignedFrame,
  shift: OperationPart['shift'],
  region: Region,
  scale = 1,
): KernelPlanes {
  if (!shift) return warpFrame(kernels, source, region, scale);
  const [dx, dy] = shift;
  return warpFrame(kernels, source, { ...region, x: region.x + dx / scale, y: region.y + dy / scale }, scale);
}

/** Most px that donors shared by several operations take together: some tiles, or part of a strip. */
const MOST_SHARED_PX = 24 * 512 * 512;

/** Donors whose pixels are needed again and again are resampled once, where that is less than for each group by itself. */
function warpShared(
  kernels: Kernels,
  base: AlignedFrame,
  frames: readonly AlignedFrame[],
  operations: readonly OperationPart[],
  region: Region,
  scale: number,
): Map<number | null, { readonly box: Region; readonly planes: KernelPlanes }> {
  const groups = new Map<number | null, MaskShape[][]>();
  operations.forEach((operation, k) => {
    const { donor, shape } = operation;
    if (operation.shift || changesInPlace(operation)) return;
    const known = groups.get(donor) ?? [];
    groups.set(donor, known);
    const last = operations[k - 1];
    if (last && last.donor === donor && isPlain(operation) && isPlain(last)) known.at(-1)!.push(shape);
    else known.push([shape]);
  });
  const area = (box: Region): number => Math.max(0, box.width) * Math.max(0, box.height);
  const shared = new Map<number | null, { readonly box: Region; readonly planes: KernelPlanes }>();
  let px = 0;
  for (const [donor, parts] of groups) {
    const source = donor === null ? base : frames[donor];
    if (parts.length < 2 || !source) continue;
    const box = boxOf(parts.flat(), region, scale);
    const apart = parts.reduce((sum, part) => sum + area(boxOf(part, region, scale)), 0);
    if (area(box) > apart || px + area(box) > MOST_SHARED_PX) continue;
    px += area(box);
    shared.set(donor, { box, planes: warpFrame(kernels, source, box, scale) });
  }
  return shared;
}

/** The operations' joint mask for one frame: where and how much of it shows, later ones of other donors covering it. */
export function renderMask(frame: number, operations: readonly Operation[], region: Region, scale = 1): Float32Array {
  const total = new Float32Array(region.width * region.height);
  for (const part of operations.flatMap(partsOf)) {
    const { donor, shape } = part;
    // What only changes in place leaves the source that is there.
    if (changesInPlace(part) || !touches(shapeRegion(shape), region, scale)) continue;
    const mask = new Float32Array(total.length);
    layShape(mask, region, shape, scale);
    for (let i = 0; i < total.length; i++) {
      total[i] = donor === frame ? total[i]! + mask[i]! * (1 - total[i]!) : total[i]! * (1 - mask[i]!);
    }
  }
  return total;
}

/** The part of a region that shapes can touch, whole px from the region's own corner. */
function boxOf(shapes: readonly MaskShape[], region: Region, scale: number): Region {
  const boxes = shapes.map(shapeRegion);
  const left = Math.max(0, Math.floor(Math.min(...boxes.map((b) => b.x)) / scale - region.x));
  const top = Math.max(0, Math.floor(Math.min(...boxes.map((b) => b.y)) / scale - region.y));
  const right = Math.ceil(Math.max(...boxes.map((b) => b.x + b.width)) / scale - region.x);
  const bottom = Math.ceil(Math.max(...boxes.map((b) => b.y + b.height)) / scale - region.y);
  return {
    x: region.x + left,
    y: region.y + top,
    width: Math.min(region.width, right) - left,
    height: Math.min(region.height, bottom) - top,
  };
}

/** Copies the part `box` out of planes that cover `region`. */
function cutPlanes(kernels: Kernels, from: KernelPlanes, region: Region, box: Region): KernelPlanes {
  const to = allocPlanes(kernels, box.width, box.height, from.count);
  const [x, y] = cornerIn(region, box);
  copyRows(kernels, from, x, y, to, 0, 0, box.width, box.height);
  return to;
}

/** Copies planes that cover `box` into their place in planes that cover `region`. */
function pastePlanes(kernels: Kernels, from: KernelPlanes, box: Region, to: KernelPlanes, region: Region): void {
  const [x, y] = cornerIn(region, box);
  copyRows(kernels, from, 0, 0, to, x, y, from.width, from.height);
}

/** Where a box begins in a region, whole px: reduced regions need not begin at whole px themselves. */
function cornerIn(region: Region, box: Region): [x: number, y: number] {
  return [Math.round(box.x - region.x), Math.round(box.y - region.y)];
}

function copyRows(
  kernels: Kernels,
  from: KernelPlanes,
  fromX: number,
  fromY: number,
  to: KernelPlanes,
  toX: number,
  toY: number,
  width: number,
  height: number,
): void {
  for (let c = 0; c < from.count; c++) {
    const source = planeView(kernels, from, c);
    const target = planeView(kernels, to, c);
    for (let row = 0; row < height; row++) {
      const at = (fromY + row) * from.width + fromX;
      target.set(source.subarray(at, at + width), (toY + row) * to.width + toX);
    }
  }
}

/**
 * Lays one donor over a picture by several shapes in order. Covering by m and then by n with the same pixels is covering by
 * 1 − (1 − m)(1 − n), so the masks are joined, each within its own box, and the pixels are touched once.
 */
function paint(
  kernels: Kernels,
  out: KernelPlanes,
  donor: KernelPlanes,
  shapes: readonly MaskShape[],
  region: Region,
  scale: number,
): void {
  kernels.scope(() => {
    const mask = allocPlanes(kernels, region.width, region.height, 1);
    const view = planeView(kernels, mask);
    view.fill(0);
    if (shapes.length === 1) layShape(view, region, shapes[0]!, scale);
    else for (const shape of shapes) joinShape(view, region, shape, scale);
    const valid = planeView(kernels, donor, 3);
    for (let i = 0; i < view.length; i++) view[i] = view[i]! * valid[i]!;
    blendMasked(kernels, { ...out, count: 3 }, donor, mask);
  });
}

function joinShape(total: Float32Array, region: Region, shape: MaskShape, scale: number): void {
  const box = boxOf([shape], region, scale);
  if (box.width <= 0 || box.height <= 0) return;
  const mask = new Float32Array(box.width * box.height);
  layShape(mask, box, shape, scale);
  const [left, top] = cornerIn(region, box);
  for (let y = 0; y < box.height; y++) {
    const row = (top + y) * region.width + left;
    for (let x = 0; x < box.width; x++) {
      total[row + x] = total[row + x]! + mask[y * box.width + x]! * (1 - total[row + x]!);
    }
  }
}

function touches(box: Region, region: Region, scale: number): boolean {
  return (
    box.x < (region.x + region.width) * scale &&
    box.y < (region.y + region.height) * scale &&
    box.x + box.width > region.x * scale &&
    box.y + box.height > region.y * scale
  );
}
