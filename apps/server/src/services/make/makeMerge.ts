// A merge made for a job, whatever its kind; runs in the conductor's thread and writes no row.
import { writeFileSync } from 'node:fs';
import type { Finding } from '@blendrak/contract';
import { detectorOf } from '@blendrak/core/inspect';
import type { Sight } from '@blendrak/core/print';
import {
  finiteMeasurements,
  markSubject,
  MERGE_DEFAULTS,
  processSet,
  type InspectedFinding,
  type MergeOptions,
  type OnFirst,
  type StepContext,
} from '../../pipeline';
import { newId } from '../context';
import { knownAlignment } from './knownAlignment';
import type { MadeMerge, MergeOrder, MergeRequest } from './mergeOrder';
import { lookMapsOf, mergeRecord } from './mergeRecord';

/**
 * Carries out an order: tiles and label maps are written where it says.
 * @throws InputError when the frames cannot be merged or do not belong to the merge, NoRoomError when the disk cannot hold the merge
 */
export async function makeMerge(order: MergeOrder, tools: StepContext, onFirst: OnFirst): Promise<MadeMerge> {
  const request: MergeRequest = {
    ...order,
    context: (from, to) => ({
      ...tools,
      onProgress: (share, message) => tools.onProgress(from + (to - from) * share, message),
    }),
  };
  const { kind, pictures, elsewhere, last, tiles } = order;
  const processed = await processSet(
    {
      ...{ kind, pictures, elsewhere, tiles },
      options: await optionsOf(request),
      known: last && knownAlignment(last, pictures),
      inspect: true,
      onFirst,
    },
    request.context,
  );
  const { shown, inspection } = processed;
  const cells = [shown?.closest, shown?.shown, ...lookMapsOf(processed).map(([, map]) => map)];
  if (shown) writeFileSync(order.labels, Buffer.concat(cells.flatMap((map) => map ?? [])));
  return {
    body: JSON.stringify(mergeRecord(processed, request)),
    findings: (inspection?.findings ?? []).map((f) => toFinding(f, order.id)),
    labelled: shown !== null,
  };
}

/** How a set is to be aligned and merged, with its subject as a mask. */
async function optionsOf({
  alignment,
  mergeOptions,
  reference,
  pictures,
  context,
}: MergeRequest): Promise<MergeOptions> {
  const { model, bendPx, subject } = alignment;
  const { stackMethod, projection, crop, evenLight, gradients } = mergeOptions;
  const ids = pictures.map((p) => p.id);
  return {
    ...MERGE_DEFAULTS,
    alignment: { reference, model, bendPx, subject: await markSubject(subject, pictures, ids, context(0, 0, 'align')) },
    stack: { method: stackMethod, gradients },
    panorama: { projection, crop, evenLight },
    bracket: { ...MERGE_DEFAULTS.bracket, ...mergeOptions },
  };
}

/** A sight as it is kept. */
export function sightRecord({ bands, ...rest }: Sight): NonNullable<Finding['sight']> {
  return { ...rest, bands: bands.map((b) => ({ ...b })) };
}

function toFinding(found: InspectedFinding, mergeId: string): Finding {
  const { detection, traced, confidence } = found;
  return {
    id: newId(),
    mergeId,
    defect: detection.defect,
    bbox: detection.bbox,
    polygon: detection.polygon.map(([x, y]) => [x, y]),
    severity: traced.severity,
    confidence,
    cause: traced.cause,
    advice: detectorOf(detection.defect).advice,
    measurements: finiteMeasurements(found),
    frames: [...traced.frames],
    donor: traced.donor,
    gain: traced.gain,
    repairable: traced.repairable,
    decision: 'open',
    reason: '',
    recheck: '',
    byHand: false,
    sight: sightRecord(traced.sight),
  };
}
