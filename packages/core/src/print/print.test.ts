// Print arithmetic against values computed by hand.
import {
  checkPrint,
  outputSharpeningPx,
  pictureBytes,
  pixelAngleArcmin,
  pixelsForPrint,
  printLengthMm,
  resolvablePpi,
} from '.';

it('24,000 × 6,300 px at 300 ppi: 80 × 21 in, 151.2 MP, 907 MB of 16-bit RGB', () => {
  const check = checkPrint({
    pixelsWide: 24_000,
    pixelsHigh: 6300,
    ppi: 300,
    viewingDistanceMm: null,
    sensorWidthMm: null,
  });
  expect(check.widthMm / 25.4).toBeCloseTo(80, 9);
  expect(check.heightMm / 25.4).toBeCloseTo(21, 9);
  expect(check.megapixels).toBeCloseTo(151.2, 9);
  expect(check.bytes16 / 1e6).toBeCloseTo(907.2, 6);
  expect(check.enlargement).toBeNull();
  // Seen from its diagonal, 300 ppi are far more than the eye can use.
  expect(check.viewingDistanceMm).toBeCloseTo(Math.hypot(2032, 533.4), 6);
  expect(check.morePixelsShow).toBe(false);
  expect(check.usefulFactor).toBe(1);
});

it('48,000 × 15,000 px are 720 MP', () => {
  const check = checkPrint({
    pixelsWide: 48_000,
    pixelsHigh: 15_000,
    ppi: 240,
    viewingDistanceMm: 500,
    sensorWidthMm: 36,
  });
  expect(check.megapixels).toBe(720);
  expect(check.enlargement).toBeCloseTo(5080 / 36, 9);
});

it('more pixels show where one spans more than an arc minute, up to what the eye resolves', () => {
  const check = checkPrint({ pixelsWide: 3000, pixelsHigh: 2000, ppi: 150, viewingDistanceMm: 300, sensorWidthMm: 36 });
  expect(check.pixelArcmin).toBeCloseTo(1.94, 2);
  expect(check.morePixelsShow).toBe(true);
  expect(150 * check.usefulFactor).toBeCloseTo(resolvablePpi(300), 6);
  expect(pixelAngleArcmin(resolvablePpi(300), 300)).toBeCloseTo(1, 9);
});

it('lengths and pixels round-trip, and no resolution is no print', () => {
  expect(pixelsForPrint(printLengthMm(4321, 287), 287)).toBeCloseTo(4321, 9);
  expect(pictureBytes(10, 10, 8)).toBe(300);
  expect(() => printLengthMm(100, 0)).toThrow('ppi');
});

it('sharpening for output reaches half an arc minute: 600 mm before px of 0.1 mm 0.87 px; no less than 0.6, no more than 3', () => {
  // 600 mm · tan 1′ = 0.1745 mm, 1.745 px, half of it.
  expect(outputSharpeningPx({ pitchMm: 0.1, distanceMm: 600 })).toBeCloseTo(0.8727, 3);
  expect(outputSharpeningPx({ pitchMm: 0.25, distanceMm: 600 })).toBe(0.6);
  expect(outputSharpeningPx({ pitchMm: 0.05, distanceMm: 3000 })).toBe(3);
});
