// Worker thread of the simulated camera: paints a scene, photographs frames into files, composes merges made elsewhere.
import { writeFileSync } from 'node:fs';
import sharp from 'sharp';
import {
  cellDepths,
  cellGrid,
  composeFaultyMerge,
  DEFAULT_CAMERA,
  gatherTruth,
  lampScene,
  openStudio,
  PLAIN_FAULTS,
  planShots,
  shootFrame,
} from '@blendrak/scene';
import { writeTiff } from '../../codecs';

export interface ShootRequest {
  readonly action: 'shoot';
  readonly seed: number;
  readonly width: number;
  readonly height: number;
  readonly count: number;
  readonly shots: readonly { readonly index: number; readonly path: string }[];
}

export interface ShootResult {
  readonly depthMm: Float32Array;
  readonly frames: readonly { readonly index: number; readonly focusMm: number; readonly cellError: Float32Array }[];
}

export interface ComposeRequest {
  readonly action: 'compose';
  readonly seed: number;
  readonly width: number;
  readonly height: number;
  readonly count: number;
  readonly depthMm: Float32Array;
  readonly frames: ShootResult['frames'];
  /** Frame that is left out of the set. */
  readonly missing: number;
  readonly paths: readonly string[];
  readonly out: string;
}

export default async function run(request: ShootRequest | ComposeRequest): Promise<ShootResult | null> {
  return request.action === 'shoot' ? shoot(request) : compose(request);
}

async function shoot({ seed, width, height, count, shots }: ShootRequest): Promise<ShootResult> {
  const scene = lampScene(seed, height / width);
  const studio = openStudio(scene, DEFAULT_CAMERA, width, height, count, seed);
  const frames = [];
  for (const { index, path } of shots) {
    const frame = shootFrame(studio, index, 8);
    const jpeg = await sharp(frame.pixels as Uint8Array, { raw: { width, height, channels: 3 } })
      .withExif(exifOf(frame.focusMm, index))
      .jpeg({ quality: 95, chromaSubsampling: '4:4:4' })
      .toBuffer();
    writeFileSync(path, jpeg);
    frames.push({ index, focusMm: frame.focusMm, cellError: frame.cellError });
  }
  return { depthMm: cellDepths(studio), frames };
}

function exifOf(focusMm: number, index: number): Record<string, Record<string, string>> {
  const second = 7 + index * 4;
  const time = `2026:05:12 10:${21 + Math.floor(second / 60)}:${String(second % 60).padStart(2, '0')}`;
  const { focalLengthMm, fNumber, iso } = DEFAULT_CAMERA;
  return {
    IFD0: { Make: 'Simulated', Model: 'Bench Camera' },
    IFD2: {
      DateTimeOriginal: time,
      ExposureTime: '1/4',
      FNumber: `${fNumber}/1`,
      FocalLength: `${focalLengthMm}/1`,
      ISOSpeedRatings: String(iso),
      SubjectDistance: `${Math.round(focusMm * 10)}/10000`,
      LensModel: `${focalLengthMm} mm close-up`,
    },
  };
}

async function compose(request: ComposeRequest): Promise<null> {
  const { seed, width, height, count, missing, paths } = request;
  const grid = cellGrid(width, height);
  const scene = lampScene(seed, height / width);
  const shots = planShots(DEFAULT_CAMERA, scene.nearMm, scene.farMm, count, seed, width, height);
  const kept = request.frames.filter((f) => f.index !== missing);
  const truth = gatherTruth(grid, request.depthMm, kept);
  const full = gatherTruth(grid, request.depthMm, request.frames);
  const merge = await composeFaultyMerge(
    { camera: DEFAULT_CAMERA, width, height },
    truth,
    full,
    PLAIN_FAULTS,
    seed,
    async (k) => {
      const shot = shots[kept[k]!.index]!;
      const pixels = await sharp(paths[k]!).raw().toBuffer();
      return { pixels: new Uint8Array(pixels), toFrame: shot.toFrame, gain: shot.gain };
    },
  );
  writeTiff(request.out, width, height, 16, null, (y, rows) => {
    const data = new Uint16Array(width * rows * 3);
    const from = y * width * 3;
    for (let i = 0; i < data.length; i++) data[i] = Math.min(65535, Math.max(0, merge.faulty[from + i]! * 65535 + 0.5));
    return { width, height: rows, data };
  });
  return null;
}
