// An alignment that a merge's record holds: found again as it was, by kind, and only for the same frames aligned alike.
import { alignmentOptionsSchema, mergeOptionsSchema, type AlignmentSettings } from '@blendrak/contract';
import { SAME_PLACE, type FrameGeometry } from '@blendrak/core/frame';
import type { MergeBody } from '../../storage';
import { isSameAlignment, knownAlignment } from './knownAlignment';
import type { JobPicture } from './mergeOrder';

const NAMES = ['a', 'b', 'c'];
const pictures: JobPicture[] = NAMES.map((id) => ({
  ...{ id, name: `${id}.jpg`, tiles: `/tiles/${id}`, width: 400, height: 300, bits: 8, noise: [1e-5], exif: null },
}));
const alignment = (part: object = {}): AlignmentSettings => alignmentOptionsSchema.parse(part);
const said = { remarks: [], bendPx: null };
const tone = [
  [0, 1],
  [0, 1],
  [0, 1],
] as [number[], number[], number[]];
const shifted = (tx: number): FrameGeometry => ({ model: 'similarity', toMerge: { re: 1, im: 0, tx, ty: 0 } });
const cameras = {
  rotations: [0, 1, 2].map(() => [1, 0, 0, 0, 1, 0, 0, 0, 1]),
  focalPx: [900, 901, 902],
  distortion: [0.01, -0.002] as [number, number],
  down: [0, 1, 0] as [number, number, number],
  uprightSupport: 0.4,
  pairs: [
    [0, 1],
    [1, 2],
  ] as [number, number][],
  lines: [],
};

function bodyOf(facts: MergeBody['facts'], ids: readonly string[] = NAMES): MergeBody {
  return {
    ...{
      fileName: 'merge.tif',
      width: 400,
      height: 300,
      bits: 16,
      reference: 1,
      noise: [1e-5],
      inspection: null,
      contrast: null,
    },
    ...{
      maps: [],
      tilesId: 'm',
      wantedReference: 'auto',
      alignment: alignment(),
      options: mergeOptionsSchema.parse({}),
      facts,
    },
    frames: ids.map((id, k) => ({
      ...{
        pictureId: id,
        fileName: `${id}.jpg`,
        geometry: shifted(3 * k) as never,
        tone,
        grey: null,
        mix: null,
        scale: 1,
      },
      ...{ shiftPx: [3 * k, 0] as [number, number], rotationDeg: 0, residualPx: k === 2 ? null : 0.1 * k },
      ...{ correlation: 0.9, coverage: 1, share: 1 / 3, residuals: [[10, 20, 0.5]] as [number, number, number][] },
    })),
  };
}
const stack = (): MergeBody =>
  bodyOf({ kind: 'focus-stack', failed: [], ...said, model: 'homography', borders: null, focus: null });
const bracket = (): MergeBody =>
  bodyOf({ kind: 'bracket', failed: [], ...said, model: 'shift', evs: [-2, 0, 2], moving: 0 });
const panorama = (failed: { fileName: string; why: string }[] = [], ids = NAMES): MergeBody =>
  bodyOf({ kind: 'panorama', failed, ...said, borders: null, composed: null, cameras }, ids);

describe('is used again', () => {
  it('for the same frames, aligned alike', () => {
    expect(isSameAlignment(stack(), pictures, 'auto', alignment())).toBe(true);
  });

  it.each([
    ['another reference', pictures, 'b', {}],
    ['another model', pictures, 'auto', { model: 'shift' }],
    ['local shifts', pictures, 'auto', { bendPx: 1 }],
    ['a subject', pictures, 'auto', { subject: { sharpOf: 'a' } }],
    ['a frame less', pictures.slice(1), 'auto', {}],
    ['frames in another order', [...pictures].reverse(), 'auto', {}],
    ['another frame', [...pictures.slice(0, 2), { ...pictures[2]!, id: 'd' }], 'auto', {}],
  ] as const)('not with %s', (_what, used, reference, settings) => {
    expect(isSameAlignment(stack(), used, reference, alignment(settings))).toBe(false);
  });

  it('of a panorama also where frames were left out, as long as it is the same ones', () => {
    const failed = [{ fileName: 'b.jpg', why: 'mirrored' }];
    const body = panorama(failed, ['a', 'c']);
    expect(isSameAlignment(body, pictures, 'auto', alignment())).toBe(true);
    // Of a stack every frame is in the merge, whatever is said of it.
    const alike = { ...stack(), frames: body.frames };
    expect(isSameAlignment(alike, pictures, 'auto', alignment())).toBe(false);
  });
});

describe('is what it was', () => {
  it('of a stack: places, tones, model and reference; what was not known still is not', () => {
    const known = knownAlignment(stack(), pictures)!;
    if (known.kind !== 'focus-stack') throw new Error(known.kind);
    const { set } = known;
    expect([set.reference, set.model, set.bendPx]).toEqual([1, 'homography', null]);
    expect(set.frames.map((f) => [f.name, f.geometry])).toEqual(NAMES.map((n, k) => [`${n}.jpg`, shifted(3 * k)]));
    expect(set.frames.map((f) => f.residualPx)).toEqual([0, 0.1, NaN]);
    expect(set.frames[0]!.blocks).toEqual([{ x: 10, y: 20, shiftX: 0.5, shiftY: 0, weight: 1 }]);
  });

  it('of a bracket: exposures in their order, tones left to merging', () => {
    const known = knownAlignment(bracket(), pictures)!;
    if (known.kind !== 'bracket') throw new Error(known.kind);
    expect(known.set.frames.map((f) => f.ev)).toEqual([-2, 0, 2]);
    expect(known.set.model).toBe('shift');
  });

  it('of a panorama: its cameras, and who was left out and why', () => {
    const failed = [{ fileName: 'b.jpg', why: 'mirrored' }];
    const known = knownAlignment(panorama(failed, ['a', 'c']), pictures)!;
    if (known.kind !== 'panorama') throw new Error(known.kind);
    const { set } = known;
    expect(set.pictures.map((p) => p.name)).toEqual(['a.jpg', 'c.jpg']);
    expect(set.rig.focalPx).toEqual(cameras.focalPx);
    expect([set.down, set.uprightSupport, set.pairs]).toEqual([cameras.down, 0.4, cameras.pairs]);
    expect(set.failed).toEqual([{ name: 'b.jpg', why: 'mirrored' }]);
    expect(set.residuals[0]).toEqual([{ x: 10, y: 20, offPx: 0.5 }]);
  });

  it('of a panorama made elsewhere there is none to go on from', () => {
    const body = bodyOf({ kind: 'panorama', failed: [], ...said, borders: null, composed: null, cameras: null });
    expect(knownAlignment(body, pictures)).toBeNull();
  });
});

it('a frame in its own place keeps to it', () => {
  const body = stack();
  const same = { ...body, frames: body.frames.map((f) => ({ ...f, geometry: SAME_PLACE as never })) };
  const known = knownAlignment(same, pictures)!;
  if (known.kind !== 'focus-stack') throw new Error(known.kind);
  expect(known.set.frames.every((f) => f.geometry === (SAME_PLACE as unknown))).toBe(true);
});
