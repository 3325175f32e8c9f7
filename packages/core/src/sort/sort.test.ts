// Sorting over frames built in code: relations, light, hands, sets and checks, with and without what files say.
import {
  arrange,
  compareLight,
  groupFrames,
  labelFrames,
  summariseFrame,
  makePyramid,
  overlapWithNext,
  redundantExposures,
  redundantSlices,
  sliceOverlap,
  relateFrames,
  type ProposedSet,
  type SortFrame,
} from '.';
import { foreignPiece, isCovered } from './findSeparator';
import { glance, SILENT, VIEW, type Glance } from '../testing/sortFrames';

const relate = (a: SortFrame, b: SortFrame) => relateFrames(makePyramid(a.summary), makePyramid(b.summary));
const base = glance();

describe('summariseFrame', () => {
  it('refuses data of another size', () => {
    expect(() => summariseFrame(new Uint8Array(12), 8, 8)).toThrow('summariseFrame.rgb');
  });

  it('gives light in EV: twice the exposure is one more', () => {
    const brighter = glance({ ev: 1 });
    const both = [...base.summary.light].map((v, i) =>
      base.summary.valid[i]! & brighter.summary.valid[i]! ? brighter.summary.light[i]! - v : 1,
    );
    const mean = both.reduce((s, v) => s + v, 0) / both.length;
    expect(mean).toBeCloseTo(1, 1);
  });
});

describe('relateFrames', () => {
  it.each([
    [0, 0],
    [150, 0],
    [-140, 12],
    [6, 96],
  ])('recovers a view moved by (%i, %i) px', (x, y) => {
    const relation = relate(base, glance({ x: 400 + x, y: 300 + y }));
    expect(relation.dx).toBeCloseTo(x / VIEW.width, 1);
    expect(relation.dy).toBeCloseTo(y / VIEW.height, 1);
    expect(relation.correlation).toBeGreaterThan(0.7);
    expect(relation.overlap).toBeCloseTo((1 - Math.abs(x) / VIEW.width) * (1 - Math.abs(y) / VIEW.height), 1);
  });

  it('does so across 1.5 EV, clipping and blur', () => {
    const relation = relate(base, glance({ x: 490, ev: 1.5, blurX: 1, blurY: 1 }));
    expect(relation.dx).toBeCloseTo(90 / VIEW.width, 1);
  });

  it('finds no likeness over a fair share of the frame in another world', () => {
    for (const seed of [2, 3, 4, 5]) {
      const { correlation, overlap } = relate(base, glance({ seed }));
      expect(correlation * Math.sqrt(overlap)).toBeLessThan(0.2);
    }
  });
});

describe('compareLight', () => {
  it('tells a gain from a tone curve, and a colour', () => {
    expect(compareLight(base.summary, glance({ ev: 0.5 }).summary)).toMatchObject({
      gainEv: expect.closeTo(0.5, 1),
      slope: expect.closeTo(1, 1),
    });
    expect(compareLight(base.summary, glance({ contrast: 1.3 }).summary)!.slope).toBeCloseTo(1.3, 1);
    expect(compareLight(base.summary, glance({ red: 1.2 }).summary)!.redEv).toBeCloseTo(Math.log2(1.2), 1);
  });

  it('compares nothing without a well exposed part in common', () => {
    expect(compareLight(base.summary, glance({ ev: 9 }).summary)).toBeNull();
  });
});

describe('separators', () => {
  it('a hand is a foreign piece; blur, exposure and noise are none', () => {
    expect(foreignPiece(glance({ hand: [60, 20, 80, 140] }).summary, base.summary).share).toBeGreaterThan(0.2);
    for (const how of [{ blurX: 2, blurY: 2 }, { ev: 1.5 }, { ev: -2 }] as Glance[])
      expect(foreignPiece(glance(how).summary, base.summary).share).toBeLessThan(0.03);
  });

  it('a covered lens is black everywhere; a dark frame with a lamp in it is not', () => {
    expect(isCovered(glance({ ev: -8 }).summary)).toBe(true);
    expect(isCovered(glance({ ev: -4 }).summary)).toBe(false);
  });
});

/** A card of a stack, a hand, a bracket, a panorama of two rows; `said` puts into files what cameras write. */
function card(said: boolean): SortFrame[] {
  let takenS = 0;
  const shot = (how: Glance, settings: Partial<typeof SILENT>, pauseS = 4): SortFrame => {
    takenS += pauseS;
    const told = {
      takenS,
      camera: 'A',
      focalLengthMm: 60,
      focalLength35Mm: 60,
      fNumber: 8,
      exposureS: 1 / 60,
      iso: 100,
      focusMm: 14_000,
    };
    return glance({ ...how, ...(said && { settings: { ...told, ...settings } }), name: `kp_${takenS}.jpg` });
  };
  const stack = [
    shot({ soft: 'right' }, { focusMm: 300 }),
    shot({ soft: 'right', x: 401 }, { focusMm: 310 }),
    shot({ soft: 'left', x: 401 }, { focusMm: 320 }),
    shot({ soft: 'left' }, { focusMm: 330 }),
  ];
  const hand = shot({ soft: 'left', hand: [50, 10, 90, 150] }, { focusMm: 330 });
  const bracket = [-2, 0, 2].map((ev, k) => shot({ seed: 9, ev }, { exposureS: 2 ** ev / 60 }, k === 0 ? 90 : 2));
  const places = [0, 1, 2, 0, 1, 2].map((c, k) => [c * 150, Math.floor(k / 3) * -90] as const);
  const panorama = places.map(([dx, dy], k) => shot({ seed: 20, x: 900 + dx, y: 500 + dy }, {}, k === 0 ? 80 : 3));
  return [...stack, hand, ...bracket, ...panorama];
}

describe.each([true, false])('groupFrames, files that say their settings: %s', (said) => {
  const frames = card(said);
  const sorting = groupFrames(frames);

  it('finds stack, bracket and panorama with exactly their frames', () => {
    expect(sorting.sets.map((s) => [s.kind, s.frames])).toEqual([
      ['focus-stack', [0, 1, 2, 3]],
      ['bracket', [5, 6, 7]],
      ['panorama', [8, 9, 10, 11, 12, 13]],
    ]);
    expect(sorting.unassigned).toEqual([]);
    for (const s of sorting.sets) expect(s.confidence).toBeGreaterThan(0.5);
  });

  it('takes the hand for what it is', () => {
    expect(sorting.separators).toEqual([4]);
  });

  it('lays the panorama out in columns and rows, the upper row on top', () => {
    const places = sorting.sets[2]!.places!;
    expect(places.map((p) => p[0])).toEqual([0, 1, 2, 0, 1, 2]);
    expect(places.map((p) => p[1])).toEqual([1, 1, 1, 0, 0, 0]);
  });

  it('says near to far where the files tell, and why', () => {
    expect(sorting.sets[0]!.order).toBe(said ? 'near-to-far' : 'unknown');
    expect(sorting.sets[0]!.why).toMatch(said ? /focused from 300 mm to 330 mm/ : /sharpness wanders/);
  });
});

describe('groupFrames', () => {
  it('no exposure of a bracket is taken for a hand, however saturated what lies in its shadows', () => {
    for (const evs of [
      [-2, 0, 2],
      [2, 0, -2],
      [0, -2, 2],
      [-3, 0, 3],
    ])
      for (const red of [0.15, 8]) {
        expect(groupFrames(evs.map((ev) => glance({ seed: 52, ev, red }))).separators).toEqual([]);
      }
  });

  it('nests brackets shot at each direction of a panorama', () => {
    const frames = [0, 150, 300].flatMap((dx) => [-2, 0, 2].map((ev) => glance({ x: 400 + dx, ev })));
    const { sets } = groupFrames(frames);
    expect(sets.map((s) => s.kind)).toEqual(['bracket', 'bracket', 'bracket', 'panorama']);
    expect(sets[3]!.nested).toEqual([0, 1, 2]);
    expect(sets[3]!.frames).toHaveLength(9);
  });

  it('a bracket shot twice is two brackets; a stack shot back again is two stacks', () => {
    const twice = [-2, 0, 2, -2, 0, 2].map((ev) => glance({ ev }));
    expect(groupFrames(twice).sets.map((s) => s.frames)).toEqual([
      [0, 1, 2],
      [3, 4, 5],
    ]);
    const back = [300, 310, 320, 300, 310, 320].map((focusMm, k) =>
      glance({ soft: k % 3 ? 'left' : 'right', settings: { focusMm } }),
    );
    expect(groupFrames(back).sets.map((s) => s.frames)).toEqual([
      [0, 1, 2],
      [3, 4, 5],
    ]);
  });

  it('goes by time, not by name, where all files tell it; a lone frame is no set', () => {
    const at = (takenS: number, ev: number) =>
      glance({ ev, settings: { takenS, exposureS: 2 ** ev / 60, fNumber: 8, iso: 100 } });
    const lone = glance({ seed: 77, settings: { takenS: 500 } });
    const { sets, unassigned } = groupFrames([at(4, 2), at(0, -2), lone, at(2, 0)]);
    expect(sets[0]!.frames).toEqual([1, 3, 0]);
    expect(unassigned).toEqual([2]);
  });

  it('nothing makes no set', () => {
    expect(groupFrames([])).toEqual({ sets: [], separators: [], unassigned: [] });
  });
});

it('arrange: places that lie less than a third of a frame apart share a column', () => {
  expect(
    arrange([
      [0, 0],
      [0.62, 0.02],
      [0.05, 0.6],
    ]),
  ).toEqual([
    [0, 0],
    [1, 0],
    [0, 1],
  ]);
});

describe('redundant frames', () => {
  /** Seven slices, each sharp in a band of its own third of the view and in its neighbours' less. */
  const sharpIn = (from: number, to: number): SortFrame => {
    const [sharp, soft] = [glance().summary, glance({ blurX: 3, blurY: 3 }).summary];
    const pick = (which: 'fine' | 'coarse') =>
      sharp.detail[which].map((v, c) => {
        const at = (c % sharp.detail.columns) / sharp.detail.columns;
        return at >= from && at < to ? v : soft.detail[which][c]!;
      });
    return {
      ...glance(),
      summary: { ...sharp, detail: { ...sharp.detail, fine: pick('fine'), coarse: pick('coarse') } },
    };
  };

  it('a slice between two that show all it shows may go; one that shows a place alone may not', () => {
    const frames = [sharpIn(0, 0.5), sharpIn(0.3, 0.7), sharpIn(0.5, 1)];
    expect(redundantSlices(frames)).toEqual([{ frame: 1, cost: expect.closeTo(0, 6) }]);
    expect(sliceOverlap(frames)[0]).toBeLessThan(0.6);
    const apart = [sharpIn(0, 0.33), sharpIn(0.33, 0.66), sharpIn(0.66, 1)];
    expect(redundantSlices(apart)).toEqual([]);
  });

  it('of two that only the other replaces, one may go: what is left still shows every place', () => {
    const frames = [sharpIn(0, 0.3), sharpIn(0.2, 0.8), sharpIn(0.2, 0.8), sharpIn(0.7, 1)];
    const redundant = redundantSlices(frames);
    expect(redundant).toHaveLength(1);
    expect([1, 2]).toContain(redundant[0]!.frame);
  });

  it('never two neighbours, nor an end, however alike all are', () => {
    const left = redundantSlices(Array.from({ length: 7 }, () => sharpIn(0, 0.5))).map((r) => r.frame);
    expect(left).toHaveLength(3);
    expect(left.every((k) => k > 0 && k < 6)).toBe(true);
    expect(left.every((k) => !left.includes(k + 1))).toBe(true);
  });

  it('of exposures, those stay that hold what no other holds', () => {
    const redundant = redundantExposures([-5, -4.9, 0, 4].map((ev) => glance({ ev })));
    expect(redundant.map((r) => r.frame)).not.toContain(2);
    expect(redundant.length).toBeGreaterThan(0);
    expect(redundant.every((r) => r.cost <= 0.004)).toBe(true);
  });

  it('one frame always stays', () => {
    expect(redundantSlices([glance()])).toEqual([]);
    expect(redundantExposures([glance(), glance()])).toHaveLength(1);
  });
});

describe('overlapWithNext', () => {
  const set = (kind: ProposedSet['kind'], count: number): ProposedSet => ({
    kind,
    frames: Array.from({ length: count }, (_, k) => k),
    nested: [],
    places: null,
    order: 'unknown',
    why: '',
    confidence: 1,
  });

  it('says of views how much of one the next sees, within 5 %', () => {
    const frames = [glance(), glance({ x: 400 + VIEW.width / 4 })];
    expect(overlapWithNext(frames, set('panorama', 2))[0]).toBeCloseTo(0.75, 1);
  });

  it('says nearly all of a slice shot twice, little of slices sharp at different places, and nothing of one frame', () => {
    const frames = [glance({ soft: 'right' }), glance({ soft: 'right', ev: 0.1 }), glance({ soft: 'left' })];
    const [twice, apart] = overlapWithNext(frames, set('focus-stack', 3));
    expect(twice).toBeGreaterThan(0.8);
    expect(apart).toBeLessThan(0.2);
    expect(overlapWithNext(frames, set('focus-stack', 1))).toEqual([]);
  });
});

describe('labelFrames', () => {
  it('says near, middle, far; under, mid, over; and columns', () => {
    const frames = card(true);
    const { sets } = groupFrames(frames);
    expect(labelFrames(frames, sets[0]!)).toEqual(['near', 'near', 'middle', 'far']);
    expect(labelFrames(frames, sets[1]!)).toEqual(['under', 'mid', 'over']);
    expect(labelFrames(frames, sets[2]!)[0]).toBe('row 2, column 1');
  });

  it('says nothing of a stack whose direction is unknown', () => {
    const frames = card(false);
    expect(new Set(labelFrames(frames, groupFrames(frames).sets[0]!))).toEqual(new Set(['']));
  });
});
