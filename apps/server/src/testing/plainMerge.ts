// A merge in the database without a picture behind it: for tests of what is recorded about merges.
import { SAME_PLACE } from '@blendrak/core/frame';
import { mergeOptionsSchema, type Exif, type Finding } from '@blendrak/contract';
import { IDENTITY_TONE } from '@blendrak/core/image';
import type { Services } from '../services/context';
import type { MergeBody } from '../storage';
import { createJob } from '../services/jobsService';

/**
 * Records a job with frames and a merge of them.
 * @returns the job's id
 */
export function recordMerge(
  services: Services,
  mergeId: string,
  frames = 3,
  sidePx = 1024,
  inspection: MergeBody['inspection'] = null,
  exifs: readonly Exif[] = [],
): string {
  const { storage } = services;
  const jobId = createJob(services, `Job of ${mergeId}`).id;
  const names = Array.from({ length: frames }, (_, k) => `frame${k + 1}.png`);
  names.forEach((file_name, position) => {
    const id = `${mergeId}x${position}`;
    storage.pictures.insert({
      id,
      job_id: jobId,
      role: 'frame',
      position,
      file_name,
      source_path: `/nowhere/${file_name}`,
      size_bytes: 1,
      status: 'waiting',
      error: null,
      info: null,
    });
    storage.pictures.markReady(id, {
      width: sidePx,
      height: sidePx,
      bits: 8,
      profile: null,
      exif: exifs[position] ?? null,
      noise: [1e-5],
    });
  });
  const body = {
    fileName: 'merge.tif',
    width: sidePx,
    height: sidePx,
    bits: 16,
    reference: 0,
    noise: [1e-5],
    inspection,
    options: mergeOptionsSchema.parse({}),
    tilesId: mergeId,
    facts: {
      kind: 'focus-stack',
      failed: [],
      remarks: [],
      bendPx: null,
      model: 'similarity',
      borders: null,
      focus: null,
    },
    frames: names.map((fileName, k) => ({
      pictureId: `${mergeId}x${k}`,
      fileName,
      geometry: SAME_PLACE,
      tone: IDENTITY_TONE,
      scale: 1,
      shiftPx: [0, 0],
      rotationDeg: 0,
      residualPx: 0,
      correlation: 1,
      coverage: 1,
      share: 1 / frames,
    })),
  };
  storage.merges.insert({
    id: mergeId,
    job_id: jobId,
    origin: 'own',
    picture_id: null,
    body: JSON.stringify(body),
    revision: 0,
    created_at: new Date().toISOString(),
  });
  return jobId;
}

/** A finding of a merge, so that something of it can be looked at again. */
export function plainFinding(mergeId: string, id: string): Finding {
  return {
    id,
    mergeId,
    defect: 'soft-patch',
    bbox: { x: 8, y: 8, width: 64, height: 64 },
    polygon: [
      [8, 8],
      [72, 8],
      [72, 72],
    ],
    severity: 60,
    confidence: 0.9,
    cause: 'a test',
    advice: 'none',
    measurements: {},
    frames: [],
    donor: 0,
    gain: 1,
    repairable: true,
    decision: 'open',
    reason: '',
    recheck: '',
    byHand: false,
    sight: null,
  };
}
