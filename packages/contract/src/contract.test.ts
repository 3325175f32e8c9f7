// What crosses a border: usual values are filled in, what is unknown or out of bounds is refused where it stands.
import {
  alignmentOptionsSchema,
  decisionChangeSchema,
  mergeFactsSchema,
  mergeOptionsSchema,
  namedChangeSchema,
  processSchema,
  reportSchema,
  shootOrderSchema,
  newOperationSchema,
  subjectAreaSchema,
  truthSchema,
} from './index';

type Parsed = { success: boolean; error?: { issues: { path: PropertyKey[]; message: string; code: string }[] } };
/** Where a value is refused, and the words. */
const refusals = (result: Parsed): [string, string][] =>
  result.success ? [] : result.error!.issues.map((i) => [i.path.join('.'), i.message]);

describe('how a set is merged and aligned', () => {
  it('is as usual where nothing is said', () => {
    expect(mergeOptionsSchema.parse({})).toMatchObject({
      ...{ stackMethod: 'labels', projection: 'auto', crop: true, evenLight: true },
      ...{ method: 'fusion', ghostSafe: true, gradients: [], parts: [] },
    });
    expect(alignmentOptionsSchema.parse({})).toEqual({
      model: 'auto',
      bendPx: 0,
      subject: { shapes: [], sharpOf: null },
    });
    expect(processSchema.parse({})).toMatchObject({ reference: 'auto', own: false });
  });

  it('takes no word it does not know, and no more of a thing than there may be', () => {
    expect(refusals(mergeOptionsSchema.safeParse({ methode: 'fusion' }))[0]![1]).toContain('methode');
    const line = { x: 0.5, y: 0.5, angleDeg: 0, width: 0.1 };
    expect(mergeOptionsSchema.safeParse({ gradients: new Array(32).fill(line) }).success).toBe(true);
    expect(mergeOptionsSchema.safeParse({ gradients: new Array(33).fill(line) }).success).toBe(false);
    expect(refusals(mergeOptionsSchema.safeParse({ gradients: [{ ...line, width: 0 }] }))[0]![0]).toBe(
      'gradients.0.width',
    );
    expect(refusals(alignmentOptionsSchema.safeParse({ bendPx: 20.5 }))[0]![0]).toBe('bendPx');
  });

  it('has a subject that is an area or a sharp part, not both', () => {
    const shapes = [{ kind: 'brush', points: [[0.5, 0.5]], radius: 0.1 }];
    expect(subjectAreaSchema.safeParse({ shapes }).success).toBe(true);
    expect(subjectAreaSchema.safeParse({ sharpOf: 'p1' }).success).toBe(true);
    expect(refusals(subjectAreaSchema.safeParse({ shapes, sharpOf: 'p1' }))[0]![1]).toContain('not both');
  });
});

describe('what is known of a merge', () => {
  const said = { failed: [], remarks: [], bendPx: null };

  it('is told by its kind, and holds nothing of another', () => {
    const stack = { kind: 'focus-stack', ...said, model: 'similarity', borders: null, focus: null };
    expect(mergeFactsSchema.parse(stack)).toEqual(stack);
    expect(refusals(mergeFactsSchema.safeParse({ ...stack, moving: 0.2 }))[0]![1]).toContain('moving');
    expect(
      mergeFactsSchema.safeParse({ kind: 'bracket', ...said, model: 'shift', evs: [-2, 0], moving: null }).success,
    ).toBe(true);
    expect(mergeFactsSchema.safeParse({ kind: 'panorama', ...said, borders: null, composed: null }).success).toBe(true);
    expect(refusals(mergeFactsSchema.safeParse({ ...stack, kind: 'collage' }))[0]![0]).toBe('kind');
  });
});

describe('a stroke', () => {
  const shape = { kind: 'stroke', points: [[1, 2]], sizePx: 20, hardness: 0.5, strength: 1 };
  const stroke = { kind: 'paint', donor: 0, shape };

  it.each([
    ['shape.points', { points: [] }],
    ['shape.points', { points: new Array(20_001).fill([0, 0]) }],
    ['shape.sizePx', { sizePx: 0.5 }],
    ['shape.hardness', { hardness: 1.01 }],
    ['shape.strength', { strength: 0 }],
    ['shape.points.0.2', { points: [[1, 2, 1.2]] }],
    ['shape.points.0.1', { points: [[1, NaN]] }],
    ['shape.kind', { kind: 'spiral' }],
  ])('is refused at %s', (path, part) => {
    const refused = newOperationSchema.safeParse({ ...stroke, shape: { ...shape, ...part } });
    expect(refusals(refused)[0]![0]).toBe(path);
  });

  it.each([-1, 1.5, 'merge'])('has no donor %s', (donor) => {
    expect(refusals(newOperationSchema.safeParse({ ...stroke, donor }))[0]![0]).toBe('donor');
  });

  it('may be of the merge itself, and carry how firmly the pen was pressed', () => {
    const pressed = { ...shape, points: [[1, 2, 0.25]] };
    expect(newOperationSchema.safeParse({ ...stroke, donor: null, shape: pressed }).success).toBe(true);
  });

  it('goes under a name that can be told from others', () => {
    const change = { kind: 'add', operation: stroke };
    expect(namedChangeSchema.safeParse({ id: 'abcdefgh', change }).success).toBe(true);
    for (const id of ['short', 'x'.repeat(65)]) expect(namedChangeSchema.safeParse({ id, change }).success).toBe(false);
  });

  it('a change of it says what it changes', () => {
    const change = (patch: object): unknown => ({ id: 'abcdefgh', change: { kind: 'patch', operationId: 'x', patch } });
    expect(namedChangeSchema.safeParse(change({ enabled: false })).success).toBe(true);
    expect(refusals(namedChangeSchema.safeParse(change({})))[0]).toEqual([
      'change.patch',
      expect.stringContaining('at least one of enabled, order, name, variant'),
    ]);
  });
});

it('a decision goes with a reason of some length at most', () => {
  expect(decisionChangeSchema.parse({ decision: 'repaired' })).toEqual({ decision: 'repaired', reason: '' });
  expect(decisionChangeSchema.safeParse({ decision: 'accepted', reason: 'x'.repeat(401) }).success).toBe(false);
  expect(decisionChangeSchema.safeParse({ decision: 'ignored' }).success).toBe(false);
});

describe('an order to the camera', () => {
  const settings = {
    ...{ focalLengthMm: 60, fNumber: 8, iso: 100, step: null, focusFromMm: null, rows: 1, wind: 0 },
    ...{ support: 'tripod', intervalS: 2, pupilOffsetMm: 0, lightDriftEvPerMin: 0, uncorrected: false, dust: 0 },
  };
  const order = {
    ...{ name: 'Gears', subject: 'gear-train', seed: 1, longSidePx: 1600, frames: 7, settings },
    ...{ format: 'jpeg', bits: 8, separator: false, mergeElsewhere: true },
  };

  it.each([
    [{ name: '  ' }, 'name', 'a name is needed'],
    [{ frames: 101 }, 'frames', 'frames: from 1 to 100 is accepted'],
    [{ longSidePx: 100 }, 'longSidePx', 'longer side: from 320 px to 12000 px is accepted'],
    [{ seed: 1.5 }, 'seed', 'seed: a whole number is accepted'],
    [{ settings: { ...settings, fNumber: 1 } }, 'settings.fNumber', 'f-number: from 1.4 to 32 is accepted'],
    [{ settings: { ...settings, step: 0 } }, 'settings.step', 'step: more than 0 is accepted'],
  ])('%j is refused at its field, in words', (part, path, words) => {
    const [found] = refusals(shootOrderSchema.safeParse({ ...order, ...part }));
    expect(found![0]).toBe(path);
    expect(found![1]).toContain(words);
  });

  it('is taken as it stands, its name without blanks', () => {
    expect(shootOrderSchema.parse({ ...order, name: ' Gears ' })).toEqual(order);
  });
});

describe('files', () => {
  const report = {
    ...{ format: 'blendrak-report', version: 1, kind: 'panorama', merge: { file: 'm.tif', width: 10, height: 8 } },
    frames: [
      {
        ...{ file: 'a.jpg', coverage: 1, share: 0.5 },
        alignment: {
          ...{ model: 'similarity', matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1], scale: 1, shiftPx: [0, 0] },
          ...{ rotationDeg: 0, residualPx: null },
        },
      },
    ],
    findings: [],
  };

  it('a report may leave a residual open, and goes through JSON unchanged', () => {
    expect(reportSchema.parse(JSON.parse(JSON.stringify(report)))).toEqual(report);
  });

  it('of another format or version, or with a matrix that is none, are refused', () => {
    expect(reportSchema.safeParse({ ...report, version: 2 }).success).toBe(false);
    expect(reportSchema.safeParse({ ...report, format: 'report' }).success).toBe(false);
    const frame = { ...report.frames[0]!, alignment: { ...report.frames[0]!.alignment, matrix: [1, 0, 0] } };
    expect(refusals(reportSchema.safeParse({ ...report, frames: [frame] }))[0]![0]).toBe('frames.0.alignment.matrix');
  });

  it('a truth names only defects there are', () => {
    const fault = {
      ...{ defect: 'halo', runs: [[3, 4]], shown: ['a'], donors: ['b'], donorOptional: false, repairable: true },
      ...{ plain: true, meanRms: 0.1, natural: false, moments: [] },
    };
    const truth = {
      ...{ format: 'blendrak-truth', version: 1, merge: report.merge, cellPx: 4, faults: [fault] },
      ...{ unavoidable: [], faint: [[0, 2]] },
    };
    expect(truthSchema.parse(truth)).toEqual(truth);
    const odd = { ...truth, faults: [{ ...fault, defect: 'scratch' }] };
    expect(refusals(truthSchema.safeParse(odd))[0]![0]).toBe('faults.0.defect');
  });
});
