// What a kit list starts with: sensors by format, lenses by focal length, no maker's names.
import type { Kit } from '@blendrak/contract';

const BODIES: readonly (readonly [name: string, widthMm: number, heightMm: number, pxWide: number, pxHigh: number])[] =
  [
    ['36 × 24 mm, 24 MP', 36, 24, 6000, 4000],
    ['36 × 24 mm, 45 MP', 36, 24, 8256, 5504],
    ['23.5 × 15.6 mm, 26 MP', 23.5, 15.6, 6240, 4160],
    ['17.3 × 13 mm, 20 MP', 17.3, 13, 5184, 3888],
    ['44 × 33 mm, 100 MP', 44, 33, 11_648, 8736],
    ['13.2 × 8.8 mm, 20 MP', 13.2, 8.8, 5472, 3648],
    ['Simulated bench camera, 12 MP', 23.6, 17.7, 4000, 3000],
  ];

const LENSES: readonly (readonly [
  name: string,
  focalMm: number,
  widest: number,
  smallest: number,
  sharpest: number,
  nearestMm: number,
])[] = [
  ['12 mm wide angle', 12, 2.8, 22, 5.6, 200],
  ['16 mm wide angle', 16, 2.8, 22, 5.6, 220],
  ['24 mm', 24, 2.8, 22, 5.6, 250],
  ['35 mm', 35, 2, 22, 5.6, 300],
  ['50 mm', 50, 1.8, 16, 5.6, 450],
  ['60 mm macro', 60, 2.8, 32, 5.6, 185],
  ['85 mm', 85, 1.8, 22, 5.6, 800],
  ['100 mm macro', 100, 2.8, 32, 5.6, 300],
  ['200 mm', 200, 4, 32, 8, 1500],
  ['400 mm', 400, 5.6, 32, 8, 3000],
];

export function startingKit(): Kit {
  return {
    bodies: BODIES.map(([name, sensorWidthMm, sensorHeightMm, pixelsWide, pixelsHigh]) => ({
      name,
      sensorWidthMm,
      sensorHeightMm,
      pixelsWide,
      pixelsHigh,
      stepScale: [],
    })),
    lenses: LENSES.map(([name, focalLengthMm, widestFNumber, smallestFNumber, sharpestFNumber, nearestFocusMm]) => ({
      name,
      focalLengthMm,
      widestFNumber,
      smallestFNumber,
      sharpestFNumber,
      nearestFocusMm,
      pupilMagnification: 1,
    })),
    measured: [],
  };
}
