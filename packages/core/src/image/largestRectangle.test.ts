// The clean rectangle of a shape, against trying all.
import fc from 'fast-check';
import { largestRectangle } from '.';

describe('largestRectangle', () => {
  it('is as large as the best of all rectangles', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(0, 1, 1, 1), { minLength: 42, maxLength: 42 }), (mask) => {
        const [w, h] = [7, 6];
        let most = 0;
        for (let y0 = 0; y0 < h; y0++)
          for (let x0 = 0; x0 < w; x0++)
            for (let y1 = y0 + 1; y1 <= h; y1++)
              for (let x1 = x0 + 1; x1 <= w; x1++) {
                let full = true;
                for (let y = y0; y < y1 && full; y++) for (let x = x0; x < x1; x++) if (!mask[y * w + x]) full = false;
                if (full) most = Math.max(most, (x1 - x0) * (y1 - y0));
              }
        const r = largestRectangle(mask, w, h);
        expect(r.width * r.height).toBe(most);
        for (let y = r.y; y < r.y + r.height; y++)
          for (let x = r.x; x < r.x + r.width; x++) expect(mask[y * w + x]).toBe(1);
      }),
      { numRuns: 60 },
    );
  });
});
