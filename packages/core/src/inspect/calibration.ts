// Data: how sure findings are, as `blendrak evaluate --calibration` learnt it. Made anew when detectors change; never by hand.
import type { Calibration } from './calibrationShape';

export const CALIBRATION: Calibration = {
  seeds: [
    { kind: 'focus-stack', first: 97001, scenes: 8 },
    { kind: 'panorama', first: 98001, scenes: 6 },
    { kind: 'bracket', first: 97001, scenes: 8 },
  ],
  kinds: {
    'focus-stack': {
      constant: 1.81,
      evidence: 1.602,
      steps: -0.131,
      defects: {
        border: 0.034,
        dust: 0.002,
        fringe: 0.082,
        ghost: 0.001,
        halo: 0.278,
        'mask-speckle': -0.449,
        misalignment: 0.209,
        seam: 0.346,
        'soft-patch': -0.503,
      },
    },
    panorama: {
      constant: 0.856,
      evidence: 0.802,
      steps: 1.41,
      defects: {
        border: 0.008,
        dust: 0.017,
        fringe: 0.076,
        ghost: -0.015,
        misalignment: 0.156,
        seam: 0.085,
        'soft-patch': -0.328,
      },
    },
    bracket: {
      constant: 1.698,
      evidence: 1.422,
      steps: 0.602,
      defects: {
        border: 0.007,
        clipping: 0.119,
        ghost: 0.112,
        halo: 0.188,
        misalignment: 0.272,
        seam: 0.094,
        'soft-patch': -0.793,
      },
    },
  },
};
