// A kit and plans as pages get them: for tests of the planners.
import { kitSchema, planSchema, type Kit, type Plan } from '@blendrak/contract';
import { newPlan, type PlanKind } from '../features/plan/newPlan';

export function kitOf(measured: Kit['measured'] = []): Kit {
  return kitSchema.parse({
    measured,
    bodies: [
      {
        name: 'Bench body',
        sensorWidthMm: 17.3,
        sensorHeightMm: 13,
        pixelsWide: 5184,
        pixelsHigh: 3888,
        stepScale: [],
      },
      { name: 'Large body', sensorWidthMm: 36, sensorHeightMm: 24, pixelsWide: 8256, pixelsHigh: 5504, stepScale: [] },
    ],
    lenses: [
      [35, 300],
      [60, 190],
    ].map(([focalLengthMm, nearestFocusMm]) => ({
      ...{ name: `${focalLengthMm} mm`, focalLengthMm, nearestFocusMm },
      ...{ widestFNumber: 2.8, smallestFNumber: 22, sharpestFNumber: 5.6, pupilMagnification: 1 },
    })),
  });
}

export function planOf(kind: PlanKind, id = 'plan1'): Plan {
  const at = '2026-11-02T08:00:00.000Z';
  return planSchema.parse({ id, createdAt: at, changedAt: at, ...newPlan(kind, kitOf()) });
}
