// Files to take away: the repaired picture, its masks, the report.
import { existsSync, readFileSync } from 'node:fs';
import { mkdtemp } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { convertTiff } from '../codecs';
import type { Report } from '@blendrak/contract';
import { renderMask } from '@blendrak/core/repair';
import { type Services } from './context';
import { RequestError } from '../shared/requestError';
import { requireJob } from './jobsService';
import { openMerge } from './mergeService';
import { modelOf } from './pipeline';

export type PictureFormat = 'tiff' | 'png' | 'jpeg';

/** Renders the repaired picture at full size into a new temporary folder; the caller removes the folder. */
export async function exportPicture(
  services: Services,
  mergeId: string,
  format: PictureFormat,
): Promise<{ folder: string; path: string }> {
  const { scene, body } = openMerge(services, mergeId);
  const folder = await mkdtemp(join(services.storage.folder.incoming, 'export-'));
  const tiff = join(folder, 'repaired.tif');
  const profile = iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId);
  const icc = profile ? new Uint8Array(readFileSync(profile)) : null;
  await services.quick.run('exportTiff', { scene, icc, out: tiff });
  if (format === 'tiff') return { folder, path: tiff };
  const path = join(folder, format === 'png' ? 'repaired.png' : 'repaired.jpg');
  await convertTiff(tiff, path);
  return { folder, path };
}

/** The profile that goes with a merge: its own if it came with one, the reference frame's for our merges. */
export function iccPath({ storage }: Services, tilesId: string, referenceId: string): string | null {
  const own = storage.folder.icc(tilesId);
  if (existsSync(own)) return own;
  const imported = storage.pictures.find(tilesId) !== undefined;
  const reference = storage.folder.icc(referenceId);
  return !imported && existsSync(reference) ? reference : null;
}

/** The mask of one frame over the whole merge as an 8-bit grey PNG: white where the frame was painted in. */
export async function exportMask(services: Services, mergeId: string, frame: number): Promise<Buffer> {
  const { scene, body } = openMerge(services, mergeId);
  if (!(frame >= 0 && frame < body.frames.length)) {
    throw new RequestError(404, `This merge has frames 0 to ${body.frames.length - 1}, not ${frame}.`);
  }
  const { width, height } = body;
  const grey = Buffer.alloc(width * height);
  const rows = 256;
  for (let y = 0; y < height; y += rows) {
    const region = { x: 0, y, width, height: Math.min(rows, height - y) };
    const mask = renderMask(frame, scene.strokes, region);
    for (let i = 0; i < mask.length; i++) grey[y * width + i] = mask[i]! * 255 + 0.5;
  }
  return sharp(grey, { raw: { width, height, channels: 1 } })
    .toColourspace('b-w')
    .png()
    .toBuffer();
}

/** The report file of a merge as it stands. */
export function exportReport(services: Services, mergeId: string): Report {
  const { storage } = services;
  const { body, row } = openMerge(services, mergeId);
  const names = body.frames.map((f) => f.fileName);
  return {
    format: 'blendrak-report',
    version: 1,
    kind: requireJob(storage, row.job_id).kind,
    merge: { file: body.fileName, width: body.width, height: body.height },
    frames: body.frames.map((f) => ({
      file: f.fileName,
      coverage: f.coverage,
      share: f.share,
      alignment: {
        ...modelOf({ toMerge: f.toMerge, ...(f.view && { view: f.view }) }),
        scale: f.scale,
        shiftPx: f.shiftPx,
        rotationDeg: f.rotationDeg,
        residualPx: f.residualPx,
      },
    })),
    findings: storage.findings.listByMerge(mergeId).map((f, i) => {
      const donor = f.donor === null ? null : names[f.donor]!;
      const shown = f.frames.flatMap((m, k) =>
        m.shownShare >= 0.01 ? [{ frame: names[k]!, role: 'shown' as const, share: m.shownShare }] : [],
      );
      return {
        id: `f-${String(i + 1).padStart(4, '0')}`,
        defect: f.defect,
        region: { bbox: [f.bbox.x, f.bbox.y, f.bbox.width, f.bbox.height], polygon: f.polygon },
        severity: f.severity,
        confidence: f.confidence,
        cause: f.cause,
        measurements: f.measurements,
        sources: donor ? [...shown, { frame: donor, role: 'donor' as const, share: 0 }] : shown,
        donor,
        repairable: f.repairable,
      };
    }),
  };
}

/** File name for a download: the merge's own name with a word added. */
export function downloadName(services: Services, mergeId: string, word: string, ending: string): string {
  const { body } = openMerge(services, mergeId);
  return `${body.fileName.replace(/\.[^.]+$/, '')} ${word}.${ending}`;
}
