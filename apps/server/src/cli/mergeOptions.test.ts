// What `blendrak merge` is told: every word taken as meant, every other one named with what is accepted.
import { MERGE_DEFAULTS } from '../pipeline';
import { frameNamed, mergeOptions } from './mergeOptions';

const NAMES = ['f01.tif', 'f02.tif', 'f03.tif'];

describe('mergeOptions', () => {
  it('says what is usual when nothing is said', () => {
    expect(mergeOptions({}, NAMES)).toEqual(MERGE_DEFAULTS);
  });

  it('takes a method for the kind it belongs to and leaves the other as usual', () => {
    const stack = mergeOptions({ method: 'reference' }, NAMES);
    expect([stack.stack.method, stack.bracket.method]).toEqual(['reference', MERGE_DEFAULTS.bracket.method]);
    const bracket = mergeOptions({ method: 'light' }, NAMES);
    expect([bracket.stack.method, bracket.bracket.method]).toEqual([MERGE_DEFAULTS.stack.method, 'light']);
  });

  it('takes reference, model, bound of bending, projection and crop', () => {
    const { alignment, panorama } = mergeOptions(
      { reference: 'f02.tif', model: 'affine', bend: '1.5', projection: 'repositioned', crop: false },
      NAMES,
    );
    expect(alignment).toEqual({ reference: 1, model: 'affine', bendPx: 1.5, subject: null });
    expect(panorama).toMatchObject({ projection: 'repositioned', crop: false });
  });

  it.each([
    [{ projection: 'round' }, '--projection: there is no projection "round". Accepted: auto, flat, cylindrical'],
    [
      { model: 'elastic' },
      '--model: there is no model "elastic". Accepted: auto, shift, similarity, affine, homography',
    ],
    [{ method: 'best' }, '--method: there is no method "best". Accepted: labels, reference, bands for focus stacks'],
    [{ reference: 'f09.tif' }, '--reference: there is no frame "f09.tif". Accepted: f01.tif, f02.tif, f03.tif'],
    [{ bend: 'much' }, '--bend: "much" is no such number of px. Accepted: 0 to 20'],
    [{ bend: '-1' }, '--bend: "-1" is no such number of px'],
    [{ bend: '' }, '--bend: "" is no such number of px'],
    [{ bend: '20.1' }, '--bend: "20.1" is no such number of px'],
  ])('refuses %j in one line', (words, message) => {
    expect(() => mergeOptions(words, NAMES)).toThrow(message);
  });

  it('finds a frame by its file’s name', () => {
    expect(frameNamed('--sharp-part', 'f03.tif', NAMES)).toBe(2);
    expect(() => frameNamed('--sharp-part', 'f3.tif', NAMES)).toThrow('--sharp-part: there is no frame "f3.tif"');
  });
});
