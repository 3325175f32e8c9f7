// Fills what no frame shows from the picture around it: asked for by name, marked as invented in the record.
import type { NewOperation, OperationPartRecord } from '@blendrak/contract';
import { fillPieces } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';
import { requireUnsigned } from '../finish/signed';
import { note } from '../log/journal';
import { decideFinding } from '../look/openMerge';
import { FILLABLE } from './fillable';
import type { Asker, OperationsService } from './operations';

/** Fills reach so far beyond an outline and fade over as much. */
const MASK = { growPx: 3, featherPx: 5, strength: 1 } as const;

/**
 * Fills a finding.
 * @param id name of the change that it becomes
 * @throws RequestError for a defect that frames can repair, or where nothing around it can be used; nothing is done then
 */
export async function fillFinding(
  services: Services,
  repair: OperationsService,
  mergeId: string,
  findingId: string,
  asker: Asker,
  id: string,
): Promise<void> {
  const { storage, merges, quick } = services;
  requireUnsigned(services, mergeId);
  const finding = storage.findings.find(findingId);
  if (finding?.mergeId !== mergeId)
    throw new RequestError(404, `findingId: this merge has no finding ${findingId} (any more).`);
  if (!FILLABLE.has(finding.defect))
    throw new RequestError(
      409,
      `findingId: a ${finding.defect.replaceAll('-', ' ')} is not filled, since frames show what should be there. Accepted: border, dust.`,
    );
  const { scene, row } = merges.painted(mergeId);
  const apart = storage.findings
    .listByMerge(mergeId)
    .filter((f) => FILLABLE.has(f.defect) && f.decision !== 'not-a-defect')
    .map((f) => f.polygon);
  const pieces: OperationPartRecord[] = [];
  for (const points of fillPieces(finding.polygon)) {
    const shape = { kind: 'outline' as const, points: points.map(([x, y]): [number, number] => [x, y]), ...MASK };
    const shift = await quick.run('findFill', { scene, shape, apart });
    if (!shift)
      throw new RequestError(
        409,
        'Nothing around this place can be used to fill it. Accepted: cropping it off on Finish, or painting by hand.',
      );
    const tone = await quick.run('toneField', { scene, donor: null, shape, shift, apart });
    pieces.push({
      ...{ donor: null, shape, shift: [shift[0], shift[1]] },
      ...(tone && { tone: { ...tone, values: [...tone.values] } }),
    });
  }
  const [first, ...also] = pieces;
  // One act: it is named, taken back and switched off as a whole.
  const operation: NewOperation = { kind: 'paint', ...first!, ...(also.length > 0 && { also }) };
  repair.change(mergeId, { id, change: { kind: 'add', operation } }, asker);
  decideFinding(services, findingId, 'repaired', 'filled from around it: invented');
  note(
    services,
    row.job_id,
    'repaired',
    `A ${finding.defect} was filled from around it: what is there now is invented.`,
  );
}
