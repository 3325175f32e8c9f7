// The places: each renders, differs by seed, and has what the work needs of it.
import type { Region } from '@blendrak/core/image';
import { renderLight } from '../render/renderLight';
import type { Light } from '../render/stage';
import { takeFrame } from '../render/takeFrame';
import { defaultSettings, frameSize, SUBJECTS, type Subject } from '../shoot/assignment';
import { planSet, type SetPlan } from '../shoot/planSet';
import { textDistance, textWidth } from './glyphs';

// Shading is slow in the test sandbox: a small picture shows all that is asked here.
const LONG = 88;

function plan(subject: Subject, seed: number, wind = 1): SetPlan {
  const settings = { ...defaultSettings(subject), wind };
  return planSet({ subject, seed, frames: 3, ...frameSize(subject, LONG), settings });
}

function whole({ canvas }: SetPlan): Region {
  return { x: 0, y: 0, width: canvas.width, height: canvas.height };
}

/** Sharp light of a set's canvas at a time. */
function sharp(set: SetPlan, startS = 0): Light {
  return renderLight(set.stage, { ...set.shots[0]!, view: set.canvas, focusMm: null, startS, shutterS: 0 }, whole(set));
}

describe.each(SUBJECTS)('%s', (subject) => {
  it('is the same for the same seed and differs for another', () => {
    const region = { x: 20, y: 16, width: 24, height: 24 };
    const bytes = (seed: number): Buffer => {
      const set = plan(subject, seed);
      return Buffer.from(takeFrame(set.stage, set.shots[0]!, region, 8));
    };
    expect(Buffer.compare(bytes(4), bytes(4))).toBe(0);
    expect(Buffer.compare(bytes(5), bytes(4))).not.toBe(0);
  });

  it('fills the picture with finite, mostly moderate light', () => {
    const light = sharp(plan(subject, 6));
    expect(light.r.every((v) => Number.isFinite(v) && v >= 0)).toBe(true);
    const lit = light.g.filter((v) => v > 0.001).length / light.g.length;
    expect(lit).toBeGreaterThan(0.98);
    expect(light.layer.includes(255)).toBe(false);
  });
});

describe('the close-up scenes', () => {
  it.each(['gear-train', 'signal-flags'] as const)(
    '%s: lies within its range of depth, with parts near both ends',
    (subject) => {
      const set = plan(subject, 4);
      const depths = sharp(set).depthMm;
      const { nearMm, farMm } = set.stage.world;
      expect(Math.min(...depths)).toBeLessThan(nearMm + 10);
      expect(Math.max(...depths)).toBeGreaterThan(farMm - 10);
      expect(Math.min(...depths)).toBeGreaterThanOrEqual(nearMm);
    },
  );

  it('the flag locker is plainer than the gear train: less local contrast in most places', () => {
    const contrast = (subject: Subject): number => {
      const set = plan(subject, 7);
      const { g, region } = sharp(set);
      const steps: number[] = [];
      for (let i = 1; i < g.length; i++) {
        if (i % region.width !== 0) steps.push(Math.abs(g[i]! - g[i - 1]!) / (g[i]! + g[i - 1]! + 0.01));
      }
      return steps.sort((a, b) => a - b)[steps.length >> 1]!;
    };
    expect(contrast('signal-flags')).toBeLessThan(contrast('gear-train') / 2);
  });
});

describe('the lamp room', () => {
  it('spans more than eight EV from its dark corners to its windows', () => {
    const light = Array.from(sharp(plan('lamp-room', 6)).g).sort((a, b) => a - b);
    const at = (share: number): number => light[Math.floor(share * light.length)]!;
    expect(Math.log2(at(0.99) / at(0.03))).toBeGreaterThan(8);
  });

  it('has windows that burn at the nominal exposure and hold detail three EV below', () => {
    const light = sharp(plan('lamp-room', 6)).g;
    const clipped = light.filter((v) => v >= 1).length;
    expect(clipped).toBeGreaterThan(light.length * 0.02);
    expect(light.filter((v) => v >= 1 && v < 8).length).toBeGreaterThan(clipped * 0.3);
  });
});

describe('things that move', () => {
  const change = (subject: Subject, wind: number): number => {
    const set = plan(subject, 9, wind);
    const a = sharp(set, 0);
    const b = sharp(set, 3);
    return a.g.reduce((sum, v, i) => sum + Math.abs(v - b.g[i]!), 0) / a.g.length;
  };

  it.each(['cove', 'lamp-room'] as const)('%s: three seconds change it, more in wind than in calm', (subject) => {
    expect(change(subject, 1)).toBeGreaterThan(0.001);
    expect(change(subject, 1)).toBeGreaterThan(change(subject, 0));
  });

  it('stay within the box they claim for each moment', () => {
    for (const subject of ['cove', 'lamp-room', 'signal-flags'] as const) {
      for (const layer of plan(subject, 11).stage.world.layers) {
        if (!layer.boxAt) continue;
        for (const t of [0, 4, 30]) {
          const { x0, y0, x1, y1 } = layer.boxAt(t);
          const shade = { r: 0, g: 0, b: 0, a: 0 };
          const margin = 0.02 * (x1 - x0);
          const outside: number[] = [];
          for (let i = 0; i <= 40; i++) {
            const u = x0 + (i / 40) * (x1 - x0);
            for (const y of [y0 - margin, y1 + margin]) {
              shade.a = 1;
              layer.shade(u, y, 1e-4, shade, t);
              outside.push(shade.a);
            }
          }
          expect(Math.max(...outside)).toBe(0);
        }
      }
    }
  });
});

describe('lettering', () => {
  it('is legible: strokes lie where letters have them, and a blank has none', () => {
    // The stem of an I, in the middle of its grid of 4 × 6.
    expect(textDistance('I', 2 / 6, 0.5)).toBeCloseTo(0, 6);
    expect(textDistance(' ', 2 / 6, 0.5)).toBe(1);
    expect(textWidth('III')).toBeGreaterThan(textWidth('II'));
  });
});
