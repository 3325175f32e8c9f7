// Segments that people measure along: read at once, kept with their readings.
import type { NewPin, Pin, Reading } from '@blendrak/contract';
import { existsSync } from 'node:fs';
import { SEGMENT_PX, segmentLength } from '@blendrak/core/instruments';
import { operationsReaching } from '@blendrak/core/repair';
import { RequestError } from '../../shared/requestError';
import { newId, type Services } from '../context';

/** Pins of one merge; more are no measurements any more. */
const MOST_PINS = 200;

/** What an instrument needs to be drawn over, when it found nothing to read. */
export const MISSED = {
  line: 'No line can be followed there. Draw along a cable, a pole or a straight edge, within some px of it.',
  edge: 'There is no edge across that segment: both its ends have the same tone. Draw from one side of an edge to the other.',
  patch: 'There is nothing to compare.',
} as const;

export function listPins({ storage, merges }: Services, mergeId: string): Pin[] {
  merges.body(mergeId);
  return storage.pins.listByMerge(mergeId);
}

/**
 * Measures along a segment of the merge as repaired.
 * @throws RequestError for a segment outside the merge, too short or too long, or with nothing to be read
 */
export async function measureAlong(
  { storage, merges, quick }: Services,
  mergeId: string,
  { kind: instrument, ...segment }: NewPin,
): Promise<Reading> {
  const { scene, body } = merges.painted(mergeId);
  checkSegment(segment, body);
  const labels = storage.folder.labels(mergeId);
  const [x, y] = [Math.min(segment.from[0], segment.to[0]), Math.min(segment.from[1], segment.to[1])];
  const around = {
    ...{ x, y },
    width: Math.abs(segment.from[0] - segment.to[0]),
    height: Math.abs(segment.from[1] - segment.to[1]),
  };
  const reading = await quick.run('measure', {
    scene: { ...scene, operations: operationsReaching(scene.operations, around, 64) },
    instrument,
    segment,
    labels: existsSync(labels) ? labels : null,
  });
  if (!reading) throw new RequestError(400, MISSED[instrument]);
  return reading;
}

/**
 * Measures along a segment and keeps what was read.
 * @throws RequestError as `measureAlong`, and where so many are kept already
 */
export async function addPin(services: Services, mergeId: string, wanted: NewPin): Promise<Pin> {
  const { storage, merges, events } = services;
  const { row } = merges.open(mergeId);
  if (storage.pins.listByMerge(mergeId).length >= MOST_PINS)
    throw new RequestError(409, `This merge has ${MOST_PINS} pins, which is all that are kept: remove some first.`);
  const revision = storage.merges.revisionOf(mergeId)!;
  const reading = await measureAlong(services, mergeId, wanted);
  const pin = storage.transaction(() => storage.pins.insert({ ...wanted, id: newId(), mergeId, reading, revision }));
  events.publish({ topic: 'pins', id: row.job_id, mergeId });
  return pin;
}

export function removePin({ storage, events }: Services, id: string): void {
  const pin = storage.pins.find(id);
  if (!pin) throw new RequestError(404, `There is no pin ${id}.`);
  storage.pins.remove(id);
  events.publish({ topic: 'pins', id: storage.merges.find(pin.mergeId)!.job_id, mergeId: pin.mergeId });
}

function checkSegment(
  segment: Pick<NewPin, 'from' | 'to'>,
  { width, height }: { width: number; height: number },
): void {
  for (const [x, y] of [segment.from, segment.to]) {
    if (!(x >= 0 && y >= 0 && x <= width && y <= height))
      throw new RequestError(
        400,
        `(${x}, ${y}) is outside the merge. Accepted: x from 0 to ${width}, y from 0 to ${height} px.`,
      );
  }
  const length = segmentLength(segment);
  if (length < SEGMENT_PX.least || length > SEGMENT_PX.most) {
    throw new RequestError(
      400,
      `The segment is ${length.toFixed(1)} px long. Accepted: ${SEGMENT_PX.least} to ${SEGMENT_PX.most} px.`,
    );
  }
}
