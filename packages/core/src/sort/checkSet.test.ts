// Checks of frames built in code: each fault is found at its frame, and sound sets have nothing to say.
import { checkSet, type ProposedSet, type SortFrame } from '.';
import { glance, SILENT, type Glance } from '../testing/sortFrames';

describe('checkSet', () => {
  const set = (kind: ProposedSet['kind'], count: number): ProposedSet => ({
    kind,
    frames: Array.from({ length: count }, (_, k) => k),
    nested: [],
    places: null,
    order: 'unknown',
    why: '',
    confidence: 1,
  });
  // Built sets have redundant frames: that has a test of its own.
  const named = (frames: SortFrame[], kind: ProposedSet['kind'] = 'focus-stack') =>
    checkSet(frames, set(kind, frames.length))
      .filter((c) => c.check !== 'redundant')
      .map((c) => `${c.check} ${c.frame}`);
  const told = { fNumber: 8, exposureS: 1 / 60, iso: 100, focalLengthMm: 60, whiteBalance: 'Manual' };
  const sound = (over: (k: number) => Glance = () => ({})) =>
    [0, 1, 2, 3, 4].map((k) =>
      glance({
        soft: k < 2 ? 'left' : 'right',
        ...over(k),
        settings: { ...told, focusMm: 1000 / (3.3 - 0.1 * k), ...over(k).settings },
      }),
    );

  it('a sound stack has nothing to say', () => {
    expect(named(sound())).toEqual([]);
  });

  it.each<[string, Partial<typeof SILENT>]>([
    ['aperture', { fNumber: 5.6 }],
    ['focal-length', { focalLengthMm: 58 }],
    ['iso', { iso: 400 }],
    ['exposure', { exposureS: 1 / 30 }],
    ['white-balance', { whiteBalance: 'Auto' }],
  ])('names the frame of another %s', (check, settings) => {
    expect(named(sound((k) => (k === 2 ? { settings } : {})))).toEqual([`${check} 2`]);
  });

  it('names a frame of another size, depth and profile', () => {
    const frames = sound();
    const odd = [...frames.slice(0, 4), { ...frames[4]!, width: 4000, bits: 16, profile: 'other' }];
    expect(named(odd)).toEqual(expect.arrayContaining(['size 4', 'bit-depth 4']));
  });

  it('tells flicker, colour drift and another tone curve apart', () => {
    expect(named(sound((k) => (k === 3 ? { ev: 0.4 } : {})))).toEqual(['brightness 3']);
    expect(named(sound((k) => (k === 3 ? { red: 1.15 } : {})))).toEqual(['colour 3']);
    expect(named(sound((k) => (k === 3 ? { contrast: 1.25 } : {})))).toContain('contrast 3');
  });

  it('a step of a bracket that was meant is none of these; one that the files do not explain is', () => {
    const exposure = (k: number) => ({ ev: (k - 1) * 2, settings: { ...told, exposureS: 2 ** ((k - 1) * 2) / 60 } });
    const frames = [0, 1, 2].map((k) => glance(exposure(k)));
    expect(named(frames, 'bracket')).toEqual([]);
    const flicker = [0, 1, 2].map((k) => glance({ ...exposure(k), ev: exposure(k).ev + (k === 2 ? 0.4 : 0) }));
    expect(named(flicker, 'bracket')).toEqual(['brightness 2']);
  });

  it('finds the shaken frame, not the merely soft one', () => {
    const shaken = sound().map((f, k) => (k === 1 ? { ...f, summary: glance({ blurX: 5 }).summary } : f));
    expect(named(shaken)).toContain('shake 1');
    const soft = sound().map((f, k) => (k === 1 ? { ...f, summary: glance({ blurX: 2, blurY: 2 }).summary } : f));
    expect(named(soft)).not.toContain('shake 1');
  });

  it('names the frames that may be left out, the next together with those before, and what is lost then', () => {
    const redundant = checkSet(sound(), set('focus-stack', 5)).filter((c) => c.check === 'redundant');
    expect(redundant).toHaveLength(2);
    expect(redundant.every((c) => !c.spoils && Number(c.value) <= Number(c.limit))).toBe(true);
    expect(redundant[0]!.meaning).toMatch(/^may be left out: /);
    expect(redundant[1]!.meaning).toMatch(/^may be left out together with \S+: /);
  });

  it('finds a frame taken twice and a slice left out', () => {
    const twice = sound((k) => (k === 1 ? { settings: { focusMm: 1000 / 3.3 } } : {}));
    expect(named(twice)).toContain('duplicate 1');
    const gap = sound((k) => ({ settings: { focusMm: 1000 / (3.3 - 0.1 * (k < 3 ? k : k + 1)) } }));
    expect(checkSet(gap, set('focus-stack', 5)).find((c) => c.check === 'missing-step')).toMatchObject({
      value: 0.2,
      limit: 0.1,
      unit: 'dpt',
      spoils: true,
    });
  });
});

describe('neighbouring views', () => {
  const views = (over: (k: number) => Glance) => [0, 1, 2].map((k) => glance({ x: 300 + 130 * k, ...over(k) }));
  const set: ProposedSet = {
    kind: 'panorama',
    frames: [0, 1, 2],
    nested: [],
    places: null,
    order: 'unknown',
    why: '',
    confidence: 1,
  };
  const found = (frames: SortFrame[]) => checkSet(frames, set).map((c) => `${c.check} ${c.frame}`);

  it('that agree have nothing to say', () => {
    expect(found(views(() => ({})))).toEqual([]);
  });

  it('tell a step in exposure at its frame', () => {
    expect(found(views((k) => (k === 2 ? { ev: 0.35 } : {})))).toEqual(['brightness 2']);
  });

  it('tell the light that corners lose, within a tenth', () => {
    const checks = checkSet(
      views(() => ({ vignetting: 0.4 })),
      set,
    );
    expect(checks.map((c) => c.check)).toEqual(['vignetting']);
    expect(Math.abs(Number(checks[0]!.value) - 40)).toBeLessThan(10);
  });
});

describe('lateral colour', () => {
  it.each([0.003, -0.004])('finds red drawn larger by %f, within a fifth, and nothing in blue', (lateral) => {
    const [red, blue] = glance({ lateral }).summary.lateral;
    expect(Math.abs(red / lateral - 1)).toBeLessThan(0.2);
    expect(Math.abs(blue)).toBeLessThan(0.0002);
  });

  it('is no matter of exposure, blur or a coloured scene', () => {
    for (const how of [{}, { ev: 1 }, { blurX: 1, blurY: 1 }, { red: 1.4 }] as Glance[])
      expect(Math.abs(glance(how).summary.lateral[0])).toBeLessThan(0.0002);
  });
});
