// The camera from order to card: files with their settings, merges made elsewhere, and a truth that holds.
import { readdirSync, readFileSync, existsSync } from 'node:fs';
import { join } from 'node:path';
import sharp, { type OutputInfo } from 'sharp';
import { truthSchema, type ShootOrder, type Truth } from '@blendrak/contract';
import { bestFrames, VISIBLE_RMS, visibleRms, type SetKind } from '@blendrak/scene';
import { inspectPicture, readExif } from '../../codecs';
import { temporaryFolder } from '../../testing/inProcess';
import { openCamera } from './cameraPool';
import { freshCommission } from '@blendrak/evaluate';
import { composeElsewhere, type MadeElsewhere } from './composeElsewhere';
import { readRgb } from './evaluate/idealPictures';
import { photograph, photographHand, type Photographed } from './photograph';
import { checkOrder, shootMenu, shootOrder } from './shootOrder';

const { path: root, clean } = temporaryFolder();

/** A cell's eight neighbours. */
function around(cell: number, across: number): number[] {
  return [-1, 0, 1].flatMap((row) => [-1, 0, 1].map((column) => cell + row * across + column));
}

const camera = openCamera();
afterAll(async () => {
  await camera.close();
  clean();
});

function order(over: Partial<ShootOrder>): ShootOrder {
  const subject = over.subject ?? 'signal-flags';
  const { settings } = shootMenu().find((m) => m.subject === subject)!;
  return {
    name: 'test',
    subject,
    seed: 3,
    longSidePx: 320,
    frames: 3,
    settings,
    format: 'jpeg',
    bits: 8,
    separator: false,
    mergeElsewhere: false,
    ...over,
  };
}

describe('a card', () => {
  it.each([
    ['jpeg', 8, 'frame01.jpg'],
    ['png', 16, 'frame01.png'],
    ['tiff', 16, 'frame01.tif'],
    ['tiff', 8, 'frame01.tif'],
  ] as const)(
    '%s with %d bits: every file has the frame’s size, depth, time and settings',
    async (format, bits, name) => {
      const card = await shootOrder(order({ format, bits }), join(root, `${format}${bits}`), () => undefined);
      const path = join(card.folder, name);
      expect(readdirSync(card.folder)).toHaveLength(3);
      const info = await inspectPicture(path);
      expect([info.width, info.height, info.bits]).toEqual([320, 240, bits]);
      const exif = await readExif(path);
      expect(exif).toMatchObject({ exposureS: 0.25, fNumber: 8, focalLengthMm: 60, iso: 100, lens: '60 mm' });
      expect(exif!.camera).toBe('Simulated Bench Camera');
      expect(exif!.focusDistanceM).toBeCloseTo(0.3, 3);
      const second = await readExif(join(card.folder, name.replace('01', '02')));
      expect(Date.parse(second!.takenAt!) - Date.parse(exif!.takenAt!)).toBe(4000);
    },
  );

  it('ends with a hand when asked to, darker and softer than the set', async () => {
    const card = await shootOrder(order({ separator: true }), join(root, 'hand'), () => undefined);
    expect(readdirSync(card.folder).sort()).toEqual(['frame01.jpg', 'frame02.jpg', 'frame03.jpg', 'hand.jpg']);
    const sharpness = async (name: string): Promise<number> => (await sharp(join(card.folder, name)).stats()).sharpness;
    expect(await sharpness('hand.jpg')).toBeLessThan(await sharpness('frame02.jpg'));
  });

  it('keeps the exposures of a nested pair beside it, and blends the darker sky into the upper frame', async () => {
    const card = await shootOrder(order({ subject: 'tower-nested', frames: 2 }), join(root, 'nested'), () => undefined);
    expect(readdirSync(card.folder).sort()).toEqual(['exposures', 'frame01.jpg', 'frame02.jpg']);
    const inner = join(card.folder, 'exposures');
    expect(readdirSync(inner).sort()).toEqual(['frame02 ground.jpg', 'frame02 sky.jpg']);
    const strip = async (path: string, top: number): Promise<number> => {
      const { channels } = await sharp(
        await sharp(path).extract({ left: 0, top, width: 320, height: 30 }).toBuffer(),
      ).stats();
      return channels[2]!.mean;
    };
    const blended = join(card.folder, 'frame02.jpg');
    const [ground, sky] = [join(inner, 'frame02 ground.jpg'), join(inner, 'frame02 sky.jpg')];
    expect(Math.abs((await strip(blended, 5)) - (await strip(sky, 5)))).toBeLessThan(2);
    expect(Math.abs((await strip(blended, 200)) - (await strip(ground, 200)))).toBeLessThan(1);
    expect(await strip(sky, 5)).toBeLessThan((await strip(ground, 5)) - 20);
    const [a, b] = [await readExif(ground), await readExif(sky)];
    expect(Math.log2(a!.exposureS! / b!.exposureS!)).toBeCloseTo(1.6, 1);
  });

  it('stops when it is cancelled, and cleans up after itself', async () => {
    const abort = new AbortController();
    const folder = join(root, 'cancelled');
    const work = shootOrder(order({ longSidePx: 1200, frames: 6 }), folder, () => abort.abort(), abort.signal);
    await expect(work).rejects.toMatchObject({ name: 'AbortError' });
    expect(existsSync(join(folder, 'raw'))).toBe(false);
  });

  it.each([
    [{ frames: 80, subject: 'lamp-room' as const }, 'frames: 80 cannot be photographed. Accepted: from 1 to 9.'],
    [
      { subject: 'cove' as const, settings: { ...shootMenu()[2]!.settings, step: 0.95 } },
      'step: 0.95 cannot be photographed. Accepted: from 0.1 to 0.8.',
    ],
  ])('refuses what no camera takes: %#', (over, words) => {
    expect(() => checkOrder(order(over))).toThrow(words);
  });
});

describe.each(['focus-stack', 'panorama', 'bracket'] as const)('a merge of a %s made elsewhere', (kind: SetKind) => {
  const seeds = { 'focus-stack': 8, panorama: 4, bracket: 7 };
  let set: Photographed;
  let made: MadeElsewhere;
  let difference: Float32Array;

  beforeAll(async () => {
    const commission = freshCommission(kind, seeds[kind], 480);
    const { assignment, leaveOut, faults } = commission;
    const folder = join(root, kind);
    const rawFolder = join(folder, 'raw');
    const quiet = { rawFolder, onProgress: () => undefined };
    set = await photograph(camera, assignment, join(folder, 'frames'), { ...quiet, format: 'jpeg', bits: 8 });
    made = await composeElsewhere(camera, set, folder, {
      ...quiet,
      faults,
      leaveOut,
      seed: 5,
      subtle: 0,
      moments: true,
    });
    difference = await cellRms(made);
  });

  it('has the size of its canvas and 16 bits', async () => {
    const { width, height } = set.plan.canvas;
    const info = await inspectPicture(made.faulty);
    expect([info.width, info.height, info.bits]).toEqual([width, height, 16]);
  });

  it('carries several kinds of defect, each to be seen in the cells of its truth', () => {
    const seeded = made.truth.faults.filter((f) => !f.natural);
    expect(new Set(seeded.map((f) => f.defect)).size).toBeGreaterThanOrEqual(4);
    for (const f of seeded) {
      const mean = f.cells.reduce((s, c) => s + difference[c]!, 0) / f.cells.length;
      // The truth smooths over 3 × 3 cells before it asks whether a cell is visible.
      expect(mean).toBeGreaterThan(visibleRms(f.defect) * 0.7);
    }
  });

  it('has pictures of what moves at other moments, which are the clean merge but for that', async () => {
    const ghosts = made.truth.faults.flatMap((f, k) => (f.moments.length > 0 ? [k] : []));
    expect(ghosts.length > 0).toBe(kind === 'bracket');
    expect(made.moments.map((m) => m.fault)).toEqual(ghosts.flatMap((k) => made.truth.faults[k]!.moments.map(() => k)));
    const flawless = await readRgb(made.clean);
    for (const { file, region, moment } of made.moments) {
      const part = await readRgb(join(root, kind, file));
      expect([part.width, part.height]).toEqual([region.width, region.height]);
      const moves = new Set(moment.zone);
      let [changed, most] = [0, 0];
      for (let y = 0; y < part.height; y++) {
        for (let x = 0; x < part.width; x++) {
          const cell = Math.floor((region.y + y) / 4) * made.survey.grid.width + Math.floor((region.x + x) / 4);
          const at = 3 * ((region.y + y) * flawless.width + region.x + x);
          const off = Math.abs(part.data[3 * (y * part.width + x) + 1]! - flawless.data[at + 1]!);
          if (moves.has(cell)) changed = Math.max(changed, off);
          // The feather between frames is a cell wide.
          else if (!around(cell, made.survey.grid.width).some((c) => moves.has(c))) most = Math.max(most, off);
        }
      }
      expect(changed).toBeGreaterThan(20);
      expect(most).toBeLessThanOrEqual(1);
    }
  });

  it('equals the clean merge everywhere else', () => {
    const known = new Uint8Array(difference.length);
    for (const f of made.truth.faults) for (const c of f.cells) known[c] = 1;
    made.truth.faint.forEach((v, c) => (known[c] = known[c]! | v));
    const { width } = made.survey.grid;
    // A feather of one cell around each fault, and the light that a seam's error loses away from its line.
    const loud = [...difference].filter((v, c) => {
      if (v <= VISIBLE_RMS) return false;
      for (let dy = -2; dy <= 2; dy++) for (let dx = -2; dx <= 2; dx++) if (known[c + dy * width + dx]) return false;
      return true;
    }).length;
    const tonal = made.truth.faults.some((f) => f.defect === 'seam' || f.defect === 'halo');
    expect(loud).toBeLessThan(difference.length * (tonal ? 0.06 : 0.002));
  });

  it('names as donors frames that cover the place and are as good as any there', () => {
    for (const f of made.truth.faults.filter((t) => !t.natural && !t.donorOptional && t.defect !== 'ghost')) {
      expect(f.donors.length).toBeGreaterThan(0);
      expect(f.donors).toEqual(bestFrames(made.survey, f.cells));
      for (const k of f.donors) expect(f.cells.every((c) => made.survey.covers[k]![c])).toBe(true);
    }
  });

  it('is near the ideal where nothing was seeded: the clean merge takes sound frames', () => {
    const { errors, moving, grid } = made.survey;
    const still = Array.from({ length: grid.width * grid.height }, (_, c) => c).filter((c) =>
      moving.every((m) => m[c]! < 0.01),
    );
    const least = still.map((c) => Math.sqrt(Math.min(...errors.map((e) => e[c]!)))).sort((a, b) => a - b);
    expect(least[least.length >> 1]!).toBeLessThan(0.03);
  });

  it('says of the clean merge only what the set has by nature', () => {
    expect(made.cleanTruth.faults.every((f) => f.natural)).toBe(true);
    const own: Record<SetKind, string[]> = {
      'focus-stack': ['focus-gap', 'dust', 'fringe', 'border'],
      panorama: ['misalignment', 'dust', 'border'],
      bracket: ['clipping', 'dust', 'fringe', 'border'],
    };
    for (const f of made.cleanTruth.faults) expect(own[kind]).toContain(f.defect);
  });
});

describe('a truth file', () => {
  it('reads back: runs of cells within the merge, frames by their names', async () => {
    const folder = join(root, 'truth');
    const card = await shootOrder(order({ mergeElsewhere: true, longSidePx: 320 }), folder, () => undefined);
    const truth: Truth = truthSchema.parse(JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8')));
    const info = await inspectPicture(card.merge!);
    expect([truth.merge.width, truth.merge.height]).toEqual([info.width, info.height]);
    const names = readdirSync(card.folder);
    // The slice that was left out leaves no gap in the numbering.
    expect(names.sort()).toEqual([1, 2, 3].map((k) => `frame0${k}.jpg`));
    const cells = Math.floor(info.width / truth.cellPx) * Math.floor(info.height / truth.cellPx);
    for (const f of truth.faults) {
      for (const name of [...f.shown, ...f.donors]) expect(names).toContain(name);
      for (const [start, length] of f.runs) expect(start + length).toBeLessThanOrEqual(cells);
    }
  });
});

describe('the hand', () => {
  it('can be photographed by itself', async () => {
    const { assignment } = freshCommission('bracket', 2, 400);
    const path = await photographHand(camera, assignment, join(root, 'frames'), 'end of set', {
      format: 'jpeg',
      bits: 8,
      rawFolder: join(root, 'raw'),
      onProgress: () => undefined,
    }).catch((error: unknown) => String(error));
    expect(path).toContain('end of set.jpg');
  });
});

/** Root mean square difference of the faulty from the clean merge per cell of 4 × 4 px. */
async function cellRms({ clean: a, faulty: b, survey: { grid } }: MadeElsewhere): Promise<Float32Array> {
  const read = async (path: string): Promise<{ data: Buffer; info: OutputInfo }> =>
    sharp(path).toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  const [p, q] = [await read(a), await read(b)];
  const out = new Float32Array(grid.width * grid.height);
  for (let y = 0; y < grid.height * 4; y++) {
    for (let x = 0; x < grid.width * 4; x++) {
      for (let c = 0; c < 3; c++) {
        const i = (y * p.info.width + x) * 3 + c;
        out[(y >> 2) * grid.width + (x >> 2)]! += ((p.data[i]! - q.data[i]!) / 255) ** 2 / 48;
      }
    }
  }
  return out.map(Math.sqrt);
}
