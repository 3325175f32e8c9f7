// A new plan of each kind, as a careful photographer would start it.
import type { Kit, PlanSheetRecord, PlanWrite } from '@blendrak/contract';

export type PlanKind = PlanSheetRecord['kind'];

export const PLAN_KINDS: Readonly<Record<PlanKind, readonly [name: string, what: string]>> = {
  'focus-stack': ['Focus stack', 'how many slices, where, at which aperture'],
  panorama: ['Panorama', 'how many directions, which lens, how large it prints'],
  bracket: ['Bracket', 'how many exposures, at which times'],
};

const PACE = { exposureS: 1 / 60, settleS: 2, delayS: 1, bufferS: 0, lightDriftEvPerMin: 0 };

/** The sheet to start from: the first camera of the kit, and a lens that suits. */
export function newPlan(kind: PlanKind, kit: Kit): PlanWrite {
  const { stepScale, ...camera } = kit.bodies[0]!;
  const lensNear = (mm: number) =>
    kit.lenses.reduce((best, l) =>
      Math.abs(Math.log(l.focalLengthMm / mm)) < Math.abs(Math.log(best.focalLengthMm / mm)) ? l : best,
    );
  const common = { notes: '', cautions: [] };
  const name = `${PLAN_KINDS[kind][0]}, new`;
  if (kind === 'focus-stack') {
    const lens = lensNear(60);
    return {
      name,
      sheet: {
        ...common,
        kind,
        stepScale,
        request: {
          ...PACE,
          camera,
          lens,
          drive: 'focus',
          nearestMm: Math.max(300, lens.nearestFocusMm * 1.1),
          farthestMm: Math.max(350, lens.nearestFocusMm * 1.3),
          depthMm: 5,
          magnification: 1,
          extensionMm: 0,
          fNumber: Math.min(Math.max(8, lens.widestFNumber), lens.smallestFNumber),
          accepted: { by: 'pixels', pixels: 2 },
          overlap: 0.25,
          spare: 0,
          focusMm: null,
          order: 'near-to-far',
          motionMmPerS: 0,
          motionLimitPx: 2,
        },
      },
    };
  }
  if (kind === 'panorama') {
    return {
      name,
      sheet: {
        ...common,
        kind,
        request: {
          ...PACE,
          exposureS: 1 / 125,
          camera,
          focalLengthMm: lensNear(35).focalLengthMm,
          orientation: 'portrait',
          from: 'lens',
          horizontalDeg: 120,
          verticalDeg: 45,
          overlap: 0.33,
          edgeMargin: 0.05,
          projection: 'cylindrical',
          ppi: 300,
          printWidthMm: 1200,
          nearestMm: 3000,
          farthestMm: null,
          pupilOffsetMm: 0,
          exposuresEach: 1,
        },
      },
    };
  }
  return {
    name,
    sheet: {
      ...common,
      kind,
      request: {
        ...PACE,
        delayS: 0,
        exposureS: 1 / 8,
        sceneEv: 16,
        usableEv: 10,
        stepEv: 2,
        fNumber: 8,
        iso: 100,
        frames: null,
        extras: [],
        directions: 1,
      },
    },
  };
}
