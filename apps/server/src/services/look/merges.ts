// Merges as they are looked at: read once, with their frames and operations, and kept while somebody looks.
import { LRUCache } from 'lru-cache';
import type { Operation } from '@blendrak/contract';
import { SAME_PLACE } from '@blendrak/core/frame';
import { placeOperation, type PlacedOperation } from '@blendrak/core/repair';
import type { InspectionScene } from '../../jobs';
import { RequestError } from '../../shared/requestError';
import { mergeBody, pictureInfo, type MergeBody, type MergeRow, type Storage } from '../../storage';

/** A state of the repair: the operations in force, in the order in which they act. */
export type RepairState = readonly PlacedOperation[];

export interface OpenMerge {
  readonly row: Omit<MergeRow, 'body' | 'revision'>;
  readonly body: MergeBody;
  /** Frames in place, and what else is painted with; no operations. */
  readonly scene: InspectionScene;
  /** What is painted with, by number: frames, then other merges of the set. */
  readonly donorNames: readonly string[];
}

export interface PaintedMerge extends OpenMerge {
  readonly scene: Omit<InspectionScene, 'operations'> & { readonly operations: RepairState };
}

export interface Merges {
  /** What a merge is, also when frames of it have been taken out of the job. */
  body(id: string): MergeBody;
  /** @throws RequestError when there is no such merge, or a frame of it has been taken out of the job */
  open(id: string): OpenMerge;
  /** The merge with its operations in force, in the order in which they act. */
  painted(id: string): PaintedMerge;
  /** The states in which the repair was lately, the newest first: who asks for a tile may not know of the last change yet. */
  recentStates(id: string): readonly RepairState[];
  /** Reads anew what a merge is painted with: there is more of it. */
  moreToPaintWith(id: string): void;
  /** Forgets what was read: pictures or merges have been removed. */
  forget(): void;
}

/** Merges kept as read; one of 255 frames holds about 2 MB. */
const MOST_KEPT = 12;

/** States kept of each. */
const MOST_STATES = 48;

type Opened = Pick<OpenMerge, 'scene' | 'donorNames'>;

interface Kept extends Omit<OpenMerge, keyof Opened> {
  opened: Opened | null;
  revision: number;
  /** By id, switched off or of other variants included. */
  operations: Map<string, PlacedOperation & Operation>;
  /** The newest first. */
  states: RepairState[];
}

export function makeMerges(storage: Storage): Merges {
  const kept = new LRUCache<string, Kept>({ max: MOST_KEPT });
  const read = (id: string): Kept => {
    const known = kept.get(id);
    if (known) return known;
    const row = storage.merges.find(id);
    if (!row) throw new RequestError(404, `There is no merge ${id}.`);
    const { body, revision: _then, ...rest } = row;
    const made: Kept = { row: rest, body: mergeBody({ ...row, body }), opened: null, ...nothingRead() };
    kept.set(id, made);
    return made;
  };
  const open = (id: string): Kept & OpenMerge => {
    const merge = read(id);
    merge.opened ??= openedOf(storage, id, merge.body);
    return Object.assign(merge, merge.opened);
  };
  const upToDate = (id: string): Kept & OpenMerge => {
    const merge = open(id);
    const revision = storage.merges.revisionOf(id)!;
    if (merge.revision === revision) return merge;
    const { changed, gone } = storage.operations.changedSince(id, merge.revision);
    gone.forEach((operation) => merge.operations.delete(operation));
    for (const operation of changed) merge.operations.set(operation.id, placeOperation(operation));
    merge.states = [inForce(merge.operations.values()), ...merge.states].slice(0, MOST_STATES);
    merge.revision = revision;
    return merge;
  };
  return {
    body: (id) => read(id).body,
    open,
    painted(id) {
      const { states, scene, ...merge } = upToDate(id);
      return { ...merge, scene: { ...scene, operations: states[0]! } };
    },
    recentStates: (id) => upToDate(id).states,
    moreToPaintWith(id) {
      const known = kept.peek(id);
      if (known) known.opened = null;
    },
    forget: () => kept.clear(),
  };
}

function nothingRead(): Pick<Kept, 'revision' | 'operations' | 'states'> {
  return { revision: -1, operations: new Map(), states: [] };
}

/** The operations that act: switched on, and part of the repair itself, not of a variant. */
function inForce(operations: Iterable<PlacedOperation & Operation>): RepairState {
  return [...operations].filter((o) => o.enabled && o.variant === '').sort((a, b) => a.order - b.order);
}

/** What a merge is painted with, by number, also when frames of it have been taken out of the job. */
export function donorNamesOf(storage: Storage, id: string, { frames }: MergeBody): string[] {
  return [...frames.map((f) => f.fileName), ...storage.sources.listByMerge(id).map((s) => s.name)];
}

function openedOf(storage: Storage, id: string, body: MergeBody): Opened {
  const others = storage.sources.listByMerge(id);
  const sources = others.map(({ id: tilesId, noise, tone, grey, mix, contrast }) => ({
    ...{ tiles: storage.folder.tiles(tilesId), noise, geometry: SAME_PLACE, tone, grey, mix, contrast },
  }));
  return {
    scene: { ...sceneOf(storage, body), sources },
    donorNames: donorNamesOf(storage, id, body),
  };
}

function sceneOf(storage: Storage, body: MergeBody): InspectionScene {
  const frames = body.frames.map((f) => {
    const picture = storage.pictures.find(f.pictureId);
    const noise = picture ? pictureInfo(picture)?.noise : null;
    if (!noise) throw new RequestError(409, `The frame ${f.fileName} of this merge has been taken out of the job.`);
    const { geometry, tone, grey, mix } = f;
    return { tiles: storage.folder.tiles(f.pictureId), noise, geometry, tone, grey, mix, contrast: body.contrast };
  });
  return { merge: { tiles: storage.folder.tiles(body.tilesId), noise: body.noise }, frames, operations: [] };
}
