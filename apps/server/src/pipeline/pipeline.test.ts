// The steps on pictures of known geometry: from files to placed frames, a merge, and what cannot be used.
import { join } from 'node:path';
import {
  applySimilarity,
  composeSimilarity,
  invertSimilarity,
  type Similarity,
  touchingSimilarity,
  coveredShare,
} from '@blendrak/core/frame';
import sharp from 'sharp';
import { evaluateTone, type Plane } from '@blendrak/core/image';
import {
  addNoise,
  blockTexture,
  gaussianBlur,
  greyPixels,
  samplePlane,
  waveTexture,
} from '../../../../packages/core/src/testing/pictures';
import { openPool } from '../jobs';
import { openTileFile } from '../codecs';
import { temporaryFolder } from '../testing/inProcess';
import {
  ALIGNMENT_DEFAULTS,
  alignFrames,
  markSubject,
  mergeStack,
  registerPlane,
  STACK_DEFAULTS,
  type SetPicture,
  type StepContext,
} from './index';

const W = 480;
const H = 384;
const { path: folder, clean } = temporaryFolder();
const pool = openPool();
const context: StepContext = { run: pool.run, parallel: pool.threads, onProgress: () => undefined };
afterAll(async () => {
  await pool.close();
  clean();
});

const texture = waveTexture(5);
/** Scene px → frame px: breathing, a shift and a roll that differ from frame to frame. */
const POSES: Similarity[] = [0, 1, 2, 3].map((k) => ({
  re: 1 - 0.004 * k,
  im: 0.0015 * (k % 2),
  tx: 3 - 2.3 * k,
  ty: -1.4 + 1.7 * k,
}));

function view(pose: Similarity, width = W, height = H, tone = (v: number): number => v): Plane {
  const toScene = invertSimilarity(pose);
  return samplePlane(width, height, (x, y) => tone(texture(...applySimilarity(toScene, x, y))));
}

async function store(plane: Plane, name: string): Promise<SetPicture> {
  const { width, height } = plane;
  const path = join(folder, name);
  await sharp(greyPixels(plane, 8).data as Uint8Array, { raw: { width, height, channels: 3 } })
    .png()
    .toFile(path);
  const out = join(folder, `${name}.tiles`);
  const info = await pool.run('store', { path, name, out });
  return { name, tiles: out, noise: info.noise, width: info.width, height: info.height, bits: info.bits, exif: null };
}

/** Largest distance between two maps over a picture's corners, px. */
function apart(a: Similarity, b: Similarity, width: number, height: number): number {
  const corners = [0, width].flatMap((x) => [0, height].map((y) => [x, y] as const));
  return Math.max(
    ...corners.map(([x, y]) => {
      const [ax, ay] = applySimilarity(a, x, y);
      const [bx, by] = applySimilarity(b, x, y);
      return Math.hypot(ax - bx, ay - by);
    }),
  );
}

// The subject lies at the second frame's focus; the others are blurred the more the further they are.
const frames = POSES.map((pose, k) =>
  store(addNoise(gaussianBlur(view(pose), 0.8 * Math.abs(k - 1)), 0.003, k), `frame${k + 1}.png`),
);

describe('alignFrames', () => {
  it('places every frame on the reference within 0.3 px at the corners', async () => {
    const set = await alignFrames(await Promise.all(frames), { ...ALIGNMENT_DEFAULTS, reference: 0 }, context);
    set.frames.forEach((frame, k) => {
      const exact = composeSimilarity(POSES[0]!, invertSimilarity(POSES[k]!));
      expect(apart(touchingSimilarity(frame.geometry, W, H), exact, W, H)).toBeLessThan(0.3);
    });
  });

  it('takes the frame with the narrowest view as reference when none is named', async () => {
    expect((await alignFrames(await Promise.all(frames), ALIGNMENT_DEFAULTS, context)).reference).toBe(0);
  });

  it('names a lone frame, a frame of another size, and a frame of another scene', async () => {
    const [first, second, third] = await Promise.all(frames);
    await expect(alignFrames([first!], ALIGNMENT_DEFAULTS, context)).rejects.toThrow(
      'frame1.png: a focus stack needs at least 2',
    );
    const small = await store(view(POSES[0]!, 400, 300), 'small.png');
    await expect(alignFrames([first!, small], ALIGNMENT_DEFAULTS, context)).rejects.toThrow(
      'small.png: it has 400 × 300 px, but frame1.png has 480 × 384 px',
    );
    const other = await store(addNoise(blockTexture(W, H, 99), 0.003, 9), 'other.png');
    await expect(alignFrames([first!, second!, third!, other], ALIGNMENT_DEFAULTS, context)).rejects.toThrow(
      'other.png: this frame does not show the same scene as its neighbours',
    );
  });

  it('says of frames of one colour that there is nothing to align, not that they are strangers', async () => {
    const plain = await Promise.all(
      [1, 2].map((k) => store({ ...view(POSES[0]!), data: new Float32Array(W * H).fill(0.45) }, `grey${k}.png`)),
    );
    await expect(alignFrames(plain, ALIGNMENT_DEFAULTS, context)).rejects.toThrow(
      'grey1.png: this frame and its neighbours hold too little detail to be laid on each other',
    );
  });

  it('stops when it is cancelled', async () => {
    const abort = new AbortController();
    abort.abort();
    await expect(
      alignFrames(await Promise.all(frames), ALIGNMENT_DEFAULTS, { ...context, signal: abort.signal }),
    ).rejects.toMatchObject({ name: 'AbortError' });
  });
});

describe('markSubject', () => {
  const none = { shapes: [], sharpOf: null };

  it('is all of the picture when nothing is marked', async () => {
    const set = await Promise.all(frames);
    const ids = set.map((p) => p.name);
    expect(await markSubject(none, set, ids, context)).toBeNull();
  });

  it('names a frame that is sharp nowhere, one that is gone, and an area of no size', async () => {
    const set = await Promise.all(frames);
    const ids = set.map((p) => p.name);
    const soft = ids.at(-1)!;
    await expect(markSubject({ ...none, sharpOf: soft }, set, ids, context)).rejects.toThrow(
      `${soft}: nothing in this frame is sharp beyond noise and beyond the other frames`,
    );
    await expect(markSubject({ ...none, sharpOf: 'gone' }, set, ids, context)).rejects.toThrow(
      'the frame gone is not in',
    );
    const speck = [{ kind: 'brush' as const, points: [[0.5, 0.5] as [number, number]], radius: 0.004 }];
    await expect(markSubject({ ...none, shapes: speck }, set, ids, context)).rejects.toThrow(
      /^subject: the marked area covers 0\.0\d % of the picture/,
    );
  });
});

describe('registerPlane', () => {
  // Scene px → merge px: three quarters of the size, cropped on the left and at the top.
  const inMerge: Similarity = { re: 0.75, im: 0, tx: -40, ty: -30 };

  it('finds a merge that is scaled, cropped and toned, within 0.3 px, and tones the frames to it', async () => {
    const set = await alignFrames(await Promise.all(frames), ALIGNMENT_DEFAULTS, context);
    const merge = await store(
      view(inMerge, 300, 230, (v) => 0.96 * v ** 1.12),
      'toned.png',
    );
    const { frames: placed } = await registerPlane(merge, { kind: 'focus-stack', set }, context);
    placed.forEach((frame, k) => {
      const exact = composeSimilarity(inMerge, invertSimilarity(POSES[k]!));
      const toFrame = invertSimilarity(touchingSimilarity(frame.geometry, W, H));
      expect(apart(composeSimilarity(exact, toFrame), { re: 1, im: 0, tx: 0, ty: 0 }, 300, 230)).toBeLessThan(0.3);
      expect(coveredShare(frame.geometry, frame, { width: 300, height: 230 })).toBeGreaterThan(0.97);
      // A mid grey becomes what the tone makes of it, within a level or two of 255.
      expect(Math.abs(evaluateTone(frame.tone[1], 0.5) - 0.96 * 0.5 ** 1.12)).toBeLessThan(0.01);
    });
  });

  it('says that a merge of something else does not belong', async () => {
    const set = await alignFrames(await Promise.all(frames), ALIGNMENT_DEFAULTS, context);
    const merge = await store(blockTexture(W, H, 7), 'stranger.png');
    await expect(registerPlane(merge, { kind: 'focus-stack', set }, context)).rejects.toThrow(
      /^stranger\.png: this merge does not belong to the frames/,
    );
  });
});

describe('mergeStack', () => {
  it('gives back the sharp picture with 16 bits, closer than any blurred frame', async () => {
    const set = await alignFrames(await Promise.all(frames), { ...ALIGNMENT_DEFAULTS, reference: 1 }, context);
    const out = join(folder, 'own.tiles');
    await mergeStack(set, set.frames[set.reference]!, STACK_DEFAULTS, out, context);
    const file = openTileFile(out);
    const merged = file.read(0, { x: 48, y: 48, width: 384, height: 288 });
    file.close();
    expect(merged.data).toBeInstanceOf(Uint16Array);
    const sharpView = view(POSES[1]!);
    let error = 0;
    let n = 0;
    for (let y = 0; y < 288; y++) {
      for (let x = 0; x < 384; x++) {
        const v = (merged.data[(y * 384 + x) * 3 + 1] as number) / 65535;
        error += (v - sharpView.data[(y + 48) * W + x + 48]!) ** 2;
        n++;
      }
    }
    // Noise of 0.003 and 8-bit steps are all that is left.
    expect(Math.sqrt(error / n)).toBeLessThan(0.008);
  });
});
