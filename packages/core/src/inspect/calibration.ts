// Data: how sure findings are, as `blendrak evaluate --calibration` learnt it. Made anew when detectors change; never by hand.
import type { Calibration } from './sureness';

export const CALIBRATION: Calibration = {
  seeds: [],
  kinds: {
    'focus-stack': { constant: 0, evidence: 1, steps: 0, defects: {} },
    panorama: { constant: 0, evidence: 1, steps: 0, defects: {} },
    bracket: { constant: 0, evidence: 1, steps: 0, defects: {} },
  },
};
