// sRGB, CIE Lab and the CIEDE2000 difference.

/** sRGB code value 0..1 → light 0..1 (IEC 61966-2-1). */
export function srgbToLinear(v: number): number {
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}

/** Light 0..1 → sRGB code value 0..1 (IEC 61966-2-1). */
export function linearToSrgb(v: number): number {
  return v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055;
}

/** L*, a*, b* (D65) of sRGB code values 0..1. */
export function srgbToLab(r: number, g: number, b: number): [number, number, number] {
  const [lr, lg, lb] = [srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)];
  const x = f((0.4124564 * lr + 0.3575761 * lg + 0.1804375 * lb) / 0.95047);
  const y = f(0.2126729 * lr + 0.7151522 * lg + 0.072175 * lb);
  const z = f((0.0193339 * lr + 0.119192 * lg + 0.9503041 * lb) / 1.08883);
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

function f(t: number): number {
  return t > 216 / 24389 ? Math.cbrt(t) : (t * 24389) / 27 / 116 + 16 / 116;
}

const DEG = Math.PI / 180;

/** Colour difference ΔE00 of two Lab colours (CIE 142-2001; G. Sharma et al., Color Res. Appl. 30(1), 2005). */
export function deltaE00(p: readonly [number, number, number], q: readonly [number, number, number]): number {
  const cBar = (Math.hypot(p[1], p[2]) + Math.hypot(q[1], q[2])) / 2;
  const g = 0.5 * (1 - Math.sqrt(cBar ** 7 / (cBar ** 7 + 25 ** 7)));
  const a1 = (1 + g) * p[1];
  const a2 = (1 + g) * q[1];
  const c1 = Math.hypot(a1, p[2]);
  const c2 = Math.hypot(a2, q[2]);
  const h1 = hue(a1, p[2]);
  const h2 = hue(a2, q[2]);
  let dh = h2 - h1;
  if (c1 * c2 === 0) dh = 0;
  else if (dh > 180) dh -= 360;
  else if (dh < -180) dh += 360;
  const dH = 2 * Math.sqrt(c1 * c2) * Math.sin((dh / 2) * DEG);
  const lm = (p[0] + q[0]) / 2;
  const cm = (c1 + c2) / 2;
  let hm = h1 + h2;
  if (c1 * c2 !== 0) {
    if (Math.abs(h1 - h2) <= 180) hm /= 2;
    else hm = hm < 360 ? (hm + 360) / 2 : (hm - 360) / 2;
  }
  const t =
    1 -
    0.17 * Math.cos((hm - 30) * DEG) +
    0.24 * Math.cos(2 * hm * DEG) +
    0.32 * Math.cos((3 * hm + 6) * DEG) -
    0.2 * Math.cos((4 * hm - 63) * DEG);
  const sl = 1 + (0.015 * (lm - 50) ** 2) / Math.sqrt(20 + (lm - 50) ** 2);
  const sc = 1 + 0.045 * cm;
  const sh = 1 + 0.015 * cm * t;
  const rc = 2 * Math.sqrt(cm ** 7 / (cm ** 7 + 25 ** 7));
  const rt = -Math.sin(60 * Math.exp(-(((hm - 275) / 25) ** 2)) * DEG) * rc;
  const l = (q[0] - p[0]) / sl;
  const c = (c2 - c1) / sc;
  const h = dH / sh;
  return Math.sqrt(l * l + c * c + h * h + rt * c * h);
}

function hue(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const h = Math.atan2(b, a) / DEG;
  return h < 0 ? h + 360 : h;
}
