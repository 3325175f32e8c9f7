// How little contrast an eye sees.
import { badParameter } from '../checks';

/**
 * Contrast sensitivity of the average eye, both eyes looking: 1 over the contrast (amplitude over mean luminance) of a grating that is
 * seen half of the time.
 * @param cyclesPerDegree more than 0
 * @param luminance of the surface, cd/m²; default 100, a well-lit print or a screen
 * @param fieldDeg side of the square that the grating fills, degrees; default 10
 * @throws ParameterError for values that are not above 0
 * Source: P. G. J. Barten, "Formula for the contrast sensitivity of the human eye", Proc. SPIE 5294 (2004), eq. for typical observers:
 * 5200 exp(−0.0016 u² (1 + 100/L)^0.08) / √((1 + 144/X² + 0.64 u²)(63/L^0.83 + 1/(1 − exp(−0.02 u²)))).
 */
export function contrastSensitivity(cyclesPerDegree: number, luminance = 100, fieldDeg = 10): number {
  for (const [name, value] of Object.entries({ cyclesPerDegree, luminance, fieldDeg }))
    if (!(value > 0)) throw badParameter(`contrastSensitivity.${name}`, 'more than 0', value);
  const u2 = cyclesPerDegree ** 2;
  const optics = 5200 * Math.exp(-0.0016 * u2 * (1 + 100 / luminance) ** 0.08);
  const field = 1 + 144 / fieldDeg ** 2 + 0.64 * u2;
  const noise = 63 / luminance ** 0.83 + 1 / (1 - Math.exp(-0.02 * u2));
  return optics / Math.sqrt(field * noise);
}
