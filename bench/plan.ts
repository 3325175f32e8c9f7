// What a drag in the planner costs: the whole plan and its blur curve, computed anew.
// npx tsx bench/plan.ts
import { blurAtPx, planFocusStack, type FocusRequest } from '@blendrak/core/plan';

const base: FocusRequest = {
  camera: { sensorWidthMm: 36, sensorHeightMm: 24, pixelsWide: 8256, pixelsHigh: 5504 },
  lens: {
    focalLengthMm: 100,
    widestFNumber: 2.8,
    smallestFNumber: 32,
    sharpestFNumber: 5.6,
    nearestFocusMm: 300,
    pupilMagnification: 1,
  },
  drive: 'focus',
  nearestMm: 400,
  farthestMm: 410,
  depthMm: 5,
  magnification: 1,
  extensionMm: 0,
  fNumber: 5.6,
  accepted: { by: 'pixels', pixels: 2 },
  overlap: 0.3,
  spare: 0,
  focusMm: null,
  order: 'near-to-far',
  exposureS: 1 / 60,
  settleS: 2,
  delayS: 1,
  bufferS: 0,
  lightDriftEvPerMin: 0,
  motionMmPerS: 0,
  motionLimitPx: 2,
};

for (const farthestMm of [410, 450, 600, 900]) {
  const request = { ...base, farthestMm };
  const times: number[] = [];
  let frames = 0;
  for (let run = 0; run < 60; run++) {
    const start = performance.now();
    const { plan } = planFocusStack({ ...request, nearestMm: 400 + run / 1000 });
    if (!plan) break;
    for (let k = 0; k <= 360; k++) blurAtPx(request, plan.slices, 400 + ((farthestMm - 400) * k) / 360);
    times.push(performance.now() - start);
    frames = plan.slices.length;
  }
  times.sort((a, b) => a - b);
  if (frames > 0)
    process.stdout.write(
      `${String(frames).padStart(4)} slices: median ${times[times.length >> 1]!.toFixed(2)} ms, 95 % ${times[Math.floor(times.length * 0.95)]!.toFixed(2)} ms\n`,
    );
}
