// Task `fitMask`: how far around a finding a mask has to reach for its rim to lie where merge and source agree, and which frame is under
// each part of it.
import { heldRanges } from '@blendrak/core/cells';
import { warpFrame } from '@blendrak/core/frame';
import { dilate, leastNoise, noiseAt, type Region } from '@blendrak/core/image';
import { CELL_PX, planeView, type KernelPlanes } from '@blendrak/core/kernels';
import {
  addToneField,
  chooseFrames,
  fitMask,
  fittedShape,
  fitToneField,
  LAYERED_CELLS,
  layeredShape,
  layShape,
  liftedTone,
  likenessOf,
  lostCells,
  outlineInMerge,
  partsOfMask,
  renderRepair,
  rimOf,
  shapeRegion,
  type ChosenFrames,
  type DonorPart,
  type FrameChoice,
  type HeldPicture,
  type OperationPart,
  type OutlineShape,
} from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, placedFrame, plainFrame } from '../sources';
import { areaOf } from './areaOf';
import { readCells } from './inspectRegions';
import { toldTones } from './toldTones';

/** Longer side at which a single frame is compared, px. */
const LONG_SIDE = 1200;
/** Several frames are compared at full size, up to so many px. */
const MOST_PX = 16e6;
/** Tones are told from so much beyond what the mask may reach, px. */
const AROUND_PX = 32;
/** Cells of the outline that lie in the finding to this share belong to it. */
const START_SHARE = 0.5;
/** Parts overlap by so much: no gap is left between their outlines, px. */
const OVERLAP_PX = 2;

export function fitMaskTask(request: TaskRequest<'fitMask'>): TaskResponse<'fitMask'> {
  const { scene, facts, polygon, source, reach } = request;
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const isSingle = typeof source === 'number';
  const isExposure = isSingle && facts.kind === 'bracket';
  const box = boxOf(polygon, reach * CELL_PX + AROUND_PX, base.source.width, base.source.height);
  if (!isSingle && box.width * box.height > MOST_PX) return [];
  const scale = isSingle ? Math.max(1, Math.max(box.width, box.height) / LONG_SIDE) : 1;
  const onGrid = (v: number): number => Math.max(1, Math.floor(v / scale / CELL_PX)) * CELL_PX;
  const region = { x: box.x / scale, y: box.y / scale, width: onGrid(box.width), height: onGrid(box.height) };
  const [across, down] = [region.width / CELL_PX, region.height / CELL_PX];
  const inside = cellsIn(areaOf([polygon], region, scale), across, down);
  const chosen: ChosenFrames = isSingle
    ? { frames: new Uint8Array(across * down).fill(source), lift: null }
    : chosenIn({ ...request, source }, region, inside);
  const grid = { width: across, height: down, x: region.x, y: region.y };
  const nearSide = source === 'first' || source === 'last' ? source : null;
  const whole = partsOfMask(new Uint8Array(across * down).fill(1), chosen.frames, across, down, { nearSide });
  const layer = whole.map(({ donor, points }): OperationPart => {
    const shape = outline(outlineInMerge(points, box, scale), isSingle ? AROUND_PX : nearSide ? 0 : OVERLAP_PX);
    const tone = liftedTone(shapeRegion(shape), donor, chosen, grid);
    return { donor, shape, ...(tone && { tone }) };
  });
  const { mask, rim, open } = kernels.scope(() => {
    const viewsOf = (planes: KernelPlanes, count: number): Float32Array[] =>
      Array.from({ length: count }, (_, c) => planeView(kernels, planes, c));
    const merge = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const shown = renderRepair(kernels, base, frames, [...scene.operations, ...layer], region, scale);
    if (facts.kind !== 'focus-stack') {
      const near = new Float32Array(region.width * region.height);
      layShape(near, region, outline(polygon, reach * CELL_PX), scale);
      const told = toldTones(merge, shown, isExposure && source < scene.frames.length ? frames[source]! : null);
      const tone = fitToneField(viewsOf(merge, 3), [...viewsOf(shown, 3), told], near, region);
      const field = { x: box.x, y: box.y, width: region.width * scale, height: region.height * scale };
      if (tone) addToneField(kernels, shown, region, tone, field, scale);
    }
    // Frames of a set are shot alike, and a merge of them is no noisier; both pictures have some.
    const noise = (2 * noiseAt(leastNoise([base, ...frames].map((f) => f.noise)), 0.5)) / scale ** 2;
    const alike = likenessOf(viewsOf(merge, 3), viewsOf(shown, 4), region.width, region.height, noise);
    const lost = isExposure ? lostInDonor(scene, source, region, scale) : null;
    lost?.forEach((v, i) => {
      if (v) alike.valid[i] = 0;
    });
    const start = Array.from(inside.keys()).filter((i) => inside[i] && !lost?.[i]);
    const fitted = fitMask(alike, start, request);
    return { mask: fitted, rim: isExposure ? rimOf(alike, fitted) : null, open: lost ?? undefined };
  });
  const wide = nearSide ? dilate({ width: across, height: down, data: mask }, LAYERED_CELLS).data : mask;
  return partsOfMask(wide, chosen.frames, across, down, { nearSide, open }).map(({ donor, points }): DonorPart => {
    const drawn = outlineInMerge(points, box, scale);
    const shape = nearSide ? layeredShape(drawn) : fittedShape(drawn);
    const tone = liftedTone(shapeRegion(shape), donor, chosen, grid);
    return { donor, shape, ...(tone && { tone }), ...(rim !== null && { rim }) };
  });
}

/** Cells that an exposure has clipped and others hold; null for what is painted with besides the frames. */
function lostInDonor(
  scene: TaskRequest<'fitMask'>['scene'],
  donor: number,
  region: Region,
  scale: number,
): Uint8Array | null {
  if (donor >= scene.frames.length) return null;
  const kernels = threadKernels();
  const held = (k: number): HeldPicture => {
    const frame = placedFrame(scene.frames[k]!);
    const channels = kernels.scope(() => {
      const planes = warpFrame(kernels, frame, region, scale);
      return [0, 1, 2, 3].map((c) => planeView(kernels, planes, c).slice());
    });
    return { channels, ranges: heldRanges(frame.tone) };
  };
  function* others(): Generator<HeldPicture> {
    for (let k = 0; k < scene.frames.length; k++) if (k !== donor) yield held(k);
  }
  return lostCells(held(donor), others(), region.width, region.height);
}

/** Frames chosen place by place, on the cells of a region at full size. */
function chosenIn(
  { scene, facts, source }: TaskRequest<'fitMask'> & { readonly source: FrameChoice },
  region: Region,
  inside: Uint8Array,
): ChosenFrames {
  // What is known in larger px says nothing of the merge's own.
  const stack = readCells(scene, facts.kind, region, facts.working.unitPx === 1 ? facts : undefined);
  const [left, top] = [(region.x - stack.region.x) / CELL_PX, (region.y - stack.region.y) / CELL_PX];
  const [across, down] = [region.width / CELL_PX, region.height / CELL_PX];
  const at = (i: number): number => (top + Math.floor(i / across)) * stack.width + left + (i % across);
  const wide = new Uint8Array(stack.width * stack.height);
  inside.forEach((v, i) => (wide[at(i)] = v));
  const { frames, lift } = chooseFrames(stack, source, wide);
  return {
    frames: Uint8Array.from({ length: across * down }, (_, i) => frames[at(i)]!),
    lift:
      lift && Float32Array.from({ length: 3 * across * down }, (_, n) => lift[3 * at(Math.floor(n / 3)) + (n % 3)]!),
  };
}

function outline(points: OutlineShape['points'], growPx: number): OutlineShape {
  return { kind: 'outline', points, growPx, featherPx: 0, strength: 1 };
}

/** A flag per cell of which more than half lies in marked px. */
function cellsIn(marks: Uint8Array, across: number, down: number): Uint8Array {
  return Uint8Array.from({ length: across * down }, (_, cell) => {
    const [x, y] = [(cell % across) * CELL_PX, Math.floor(cell / across) * CELL_PX];
    let sum = 0;
    for (let v = y; v < y + CELL_PX; v++) for (let u = x; u < x + CELL_PX; u++) sum += marks[v * across * CELL_PX + u]!;
    return sum / CELL_PX ** 2 >= START_SHARE ? 1 : 0;
  });
}

/** A polygon's box and so much around it, within the picture, on the cell grid. */
function boxOf(polygon: OutlineShape['points'], around: number, width: number, height: number): Region {
  const [xs, ys] = [polygon.map(([x]) => x), polygon.map(([, y]) => y)];
  const down = (v: number): number => Math.floor(v / CELL_PX) * CELL_PX;
  const [left, top] = [Math.max(0, down(Math.min(...xs) - around)), Math.max(0, down(Math.min(...ys) - around))];
  return {
    x: left,
    y: top,
    width: Math.min(down(width), down(Math.max(...xs) + around)) - left,
    height: Math.min(down(height), down(Math.max(...ys) + around)) - top,
  };
}
