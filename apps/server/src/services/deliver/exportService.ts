// Files to take away that are made at once: masks and the report; and what goes with a picture.
import { existsSync } from 'node:fs';
import type { Report } from '@blendrak/contract';
import { modelOf } from '@blendrak/core/frame';
import { isInvented, partsOf, type PlacedOperation } from '@blendrak/core/repair';
import { reportFinding } from '../../pipeline';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { operationWords } from '../mend/operationWords';

/** The profile that goes with a merge: its own if it came with one, the reference frame's for our merges. */
export function iccPath({ storage }: Pick<Services, 'storage'>, tilesId: string, referenceId: string): string | null {
  const own = storage.folder.icc(tilesId);
  if (existsSync(own)) return own;
  const imported = storage.pictures.find(tilesId) !== undefined;
  const reference = storage.folder.icc(referenceId);
  return !imported && existsSync(reference) ? reference : null;
}

/** The mask of one frame over the whole merge as an 8-bit grey PNG: white where the frame was painted in. */
export async function exportMask({ merges, pool }: Services, mergeId: string, frame: number): Promise<Uint8Array> {
  const { scene, body, donorNames } = merges.painted(mergeId);
  if (!(frame >= 0 && frame < donorNames.length)) {
    throw new RequestError(404, `This merge has frames 0 to ${donorNames.length - 1}, not ${frame}.`);
  }
  const { width, height } = body;
  return pool.run('mask', { frame, operations: scene.operations, width, height });
}

/** What was filled from around it, in words: no frame shows it. */
export function inventedOf(operations: readonly PlacedOperation[]): string[] {
  return operations.flatMap((operation) => {
    const { x, y, width, height } = operation.region;
    return partsOf(operation).some(isInvented)
      ? [`${Math.round(width)} × ${Math.round(height)} px at (${Math.round(x)}, ${Math.round(y)}), filled from around`]
      : [];
  });
}

/** The report file of a merge as it stands. */
export function exportReport({ storage, merges }: Services, mergeId: string): Report {
  const { body, scene, donorNames } = merges.painted(mergeId);
  const names = body.frames.map((f) => f.fileName);
  const repairs = scene.operations.map(({ id, donor, region: { x, y, width, height } }) => ({
    words: operationWords(storage.operations.find(id)!.operation, donorNames),
    donor: donor === null ? null : donorNames[donor]!,
    bbox: [x, y, width, height] as [number, number, number, number],
  }));
  const { cut, signature, waivers } = storage.finishes.find(mergeId);
  const finish = {
    ...{ cut, signature, invented: inventedOf(scene.operations) },
    waivers: waivers.map(({ kind, by, at, reason }) => ({ kind, by, at, reason })),
  };
  const isFinished = cut.crop !== null || signature !== null || waivers.length > 0;
  const pins = storage.pins
    .listByMerge(mergeId)
    .map(({ number, kind, from, to, reading }) => ({ number, kind, from, to, reading }));
  return {
    format: 'blendrak-report',
    version: 1,
    kind: body.facts.kind,
    merge: { file: body.fileName, width: body.width, height: body.height },
    frames: body.frames.map((f) => ({
      file: f.fileName,
      coverage: f.coverage,
      share: f.share,
      alignment: {
        ...modelOf(f.geometry),
        scale: f.scale,
        shiftPx: f.shiftPx,
        rotationDeg: f.rotationDeg,
        residualPx: f.residualPx,
      },
    })),
    findings: storage.findings.listByMerge(mergeId).map((f, i) => reportFinding(f, i, names)),
    ...(pins.length > 0 && { pins }),
    ...(repairs.length > 0 && { repairs }),
    ...(isFinished && { finish }),
  };
}

/** File name for a download: the merge's own name with a word added. */
export function downloadName(services: Services, mergeId: string, word: string, ending: string): string {
  const { body } = services.merges.open(mergeId);
  return `${body.fileName.replace(/\.[^.]+$/, '')} ${word}.${ending}`;
}
