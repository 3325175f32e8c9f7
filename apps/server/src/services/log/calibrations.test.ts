// What jobs tell of bodies and lenses, against the simulated camera that knows it; and taking it over.
import { FULL_SIZE } from '@blendrak/core/cells';
import { breathingPerDioptre } from '@blendrak/core/learn';
import { calibrateFromDistances } from '@blendrak/core/plan';
import { sensorSpots } from '@blendrak/core/inspect';
import { frameToMerge, type FrameGeometry } from '@blendrak/core/frame';
import { z } from 'zod';
import { calibrationSchema, kitSchema, problemSchema, type Calibration } from '@blendrak/contract';
import { alignFrames, ALIGNMENT_DEFAULTS, MERGE_DEFAULTS, mergeSet } from '../../pipeline';
import { openHttp } from '../../testing/openHttp';
import { recordMerge } from '../../testing/plainMerge';
import { shootingRange } from '../../testing/shotSets';

describe('against the camera', () => {
  const { pool, steps, shoot, store, freshTiles } = shootingRange();

  it('focus steps are right within 2 %, breathing within 5 %', async () => {
    const { plan, files } = await shoot('gear-train', 8, {}, 1100);
    const pictures = await Promise.all(files.map((f) => store(f.path)));
    const distances = pictures.map((p) => p.exif?.focusDistanceM ?? null);
    expect(distances).not.toContain(null);
    const { focalLengthMm, fNumber } = plan.shots[0]!.lens;
    const optics = { focalLengthMm, fNumber, cocMm: 0.01 };
    const truth = calibrateFromDistances(
      plan.shots.map((s) => s.focusMm!),
      optics,
    );
    const told = calibrateFromDistances(
      distances.map((d) => 1000 * d!),
      optics,
    );
    expect(Math.abs(told.fraction / truth.fraction - 1)).toBeLessThan(0.02);

    const aligned = await alignFrames(pictures, ALIGNMENT_DEFAULTS, steps());
    const scales = aligned.frames.map((f) => scaleOf(f.geometry));
    const measured = breathingPerDioptre(scales, distances)!;
    // A frame that shows things larger is laid on the merge smaller: v = f / (1 - f / s) against the scale it is given.
    const drawn = plan.shots.map((s) => 1 / (focalLengthMm / (1 - focalLengthMm / s.focusMm!)));
    const real = breathingPerDioptre(
      drawn,
      plan.shots.map((s) => s.focusMm! / 1000),
    )!;
    expect(Math.abs(measured / real - 1)).toBeLessThan(0.05);
  });

  it('specks on the sensor are found within 5 px of where they sit, those that are seen', async () => {
    const { plan, files } = await shoot('tower', 4, { dust: 4 });
    const pictures = await Promise.all(files.map((f) => store(f.path)));
    const merged = await mergeSet('panorama', pictures, MERGE_DEFAULTS, freshTiles(), steps);
    const looks = await Promise.all(merged.frames.map((picture) => pool.run('survey', { kind: 'panorama', picture })));
    const found = sensorSpots.survey!.join(
      looks.map((look) => look[sensorSpots.name]),
      merged.frames,
      FULL_SIZE,
    );
    const { dust } = plan.shots[0]!.sensor;
    expect(dust.length).toBe(4);
    expect(found.length).toBeGreaterThan(0);
    for (const { sensor } of found)
      expect(Math.min(...dust.map((d) => Math.hypot(d.xPx - sensor[0], d.yPx - sensor[1])))).toBeLessThan(5);
  });
});

function scaleOf(geometry: FrameGeometry): number {
  const [a, b] = [frameToMerge(geometry, 100, 100)!, frameToMerge(geometry, 200, 100)!];
  return Math.hypot(a[0] - b[0], a[1] - b[1]) / 100;
}

describe('the kit', () => {
  const { services, http, close } = openHttp();
  afterAll(close);
  const calibrations = async (): Promise<Calibration[]> =>
    z.array(calibrationSchema).parse((await http.get('/api/log/calibrations')).body);

  /** A job whose frames name body and lens, and whose survey saw specks at some places of the sensor. */
  function jobWith(mergeId: string, ...specks: readonly (readonly [number, number, number])[]): void {
    const surveys = {
      [sensorSpots.name]: specks.map(([x, y, depth]) => ({ sensor: [x, y], depth, radiusPx: 6, places: [] })),
    };
    const exif = { camera: 'K-1', lens: '90 mm', takenAt: null, exposureS: 0.01, fNumber: 8, focalLengthMm: 90 };
    recordMerge(
      services,
      mergeId,
      3,
      1024,
      { grain: null, inside: null, working: FULL_SIZE, surveys, yardsticks: {} },
      [0.5, 0.4, 0.3].map((focusDistanceM) => ({
        ...{ ...exif, iso: 100, focusDistanceM, focalLength35Mm: null, whiteBalance: null },
      })),
    );
  }

  it('takes over what the jobs tell by one request, says so, and takes it anew when they tell more', async () => {
    jobWith('one', [300, 200, 0.1], [700, 500, 0.04]);
    jobWith('two', [303, 198, 0.14]);
    const specks = (await calibrations()).filter((c) => c.what === 'dust');
    // What both jobs saw at one place is one speck, whatever lens was before it.
    expect(specks.map((c) => [c.jobs.length, c.words, c.lens, c.isTaken])).toEqual([
      [2, 'a speck on the sensor at 302, 199 px', 'any lens', false],
      [1, 'a speck on the sensor at 700, 500 px', 'any lens', false],
    ]);
    expect(specks[0]!.value).toBeCloseTo(12, 6);
    const { camera, lens, what, words } = specks[0]!;
    const taken = await http.post('/api/log/calibrations/taken').send({ camera, lens, what, words });
    expect(taken.status).toBe(200);
    expect(kitSchema.parse(taken.body).measured).toMatchObject([{ what: 'dust', jobs: 2, unit: '% of light taken' }]);
    expect((await calibrations()).filter((c) => c.isTaken).map((c) => c.words)).toEqual([words]);
    // The same twice leaves one.
    await http.post('/api/log/calibrations/taken').send({ camera, lens, what, words });
    expect(kitSchema.parse((await http.get('/api/kit')).body).measured).toHaveLength(1);
  });

  it('does not take what no job tells', async () => {
    const name = { camera: 'K-1', lens: '12 mm', what: 'breathing', words: 'change of scale with focus' };
    const refused = await http.post('/api/log/calibrations/taken').send(name);
    expect([refused.status, problemSchema.parse(refused.body).detail]).toEqual([404, expect.stringContaining('12 mm')]);
  });
});
