// Merges as they are looked at: read once, with their frames and strokes, and kept while somebody looks.
import { LRUCache } from 'lru-cache';
import type { SavedStroke } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import { strokeRegion } from '@blendrak/core/repair';
import type { InspectionScene } from '../../jobs';
import { RequestError } from '../../shared/requestError';
import { mergeBody, pictureInfo, type MergeBody, type MergeRow, type Storage } from '../../storage';

/** A stroke with the part of the merge it can touch. */
export type PlacedStroke = SavedStroke & { readonly region: Region };

export interface OpenMerge {
  readonly row: Omit<MergeRow, 'body' | 'revision'>;
  readonly body: MergeBody;
  /** Frames in place; no strokes. */
  readonly scene: InspectionScene;
}

export interface Merges {
  /** What a merge is, also when frames of it have been taken out of the job. */
  body(id: string): MergeBody;
  /** @throws RequestError when there is no such merge, or a frame of it has been taken out of the job */
  open(id: string): OpenMerge;
  /** The merge with its strokes in force, in the order in which they act. */
  painted(id: string): OpenMerge & { readonly scene: { readonly strokes: readonly PlacedStroke[] } };
  /** Forgets what was read: pictures or merges have been removed. */
  forget(): void;
}

/** Merges kept as read; one of 255 frames holds about 2 MB. */
const MOST_KEPT = 12;

interface Kept extends Omit<OpenMerge, 'scene'> {
  scene: InspectionScene | null;
  strokes: {
    readonly revision: number;
    readonly all: ReadonlyMap<string, PlacedStroke>;
    readonly inForce: PlacedStroke[];
  };
}

export function makeMerges(storage: Storage): Merges {
  const kept = new LRUCache<string, Kept>({ max: MOST_KEPT });
  const read = (id: string): Kept => {
    const known = kept.get(id);
    if (known) return known;
    const row = storage.merges.find(id);
    if (!row) throw new RequestError(404, `There is no merge ${id}.`);
    const { body, revision: _then, ...rest } = row;
    const strokes = { revision: -1, all: new Map(), inForce: [] };
    const made: Kept = { row: rest, body: mergeBody({ ...row, body }), scene: null, strokes };
    kept.set(id, made);
    return made;
  };
  const open = (id: string): Kept & OpenMerge => {
    const merge = read(id);
    const scene = merge.scene ?? sceneOf(storage, merge.body);
    return Object.assign(merge, { scene });
  };
  return {
    body: (id) => read(id).body,
    open,
    painted(id) {
      const merge = open(id);
      const revision = storage.merges.revisionOf(id)!;
      if (merge.strokes.revision !== revision) {
        const { changed, gone } = storage.strokes.changedSince(id, merge.strokes.revision);
        const all = new Map(merge.strokes.all);
        for (const stroke of changed) all.set(stroke.id, { ...stroke, region: strokeRegion(stroke) });
        gone.forEach((stroke) => all.delete(stroke));
        merge.strokes = { revision, all, inForce: [...all.values()].filter((s) => !s.undone) };
      }
      return { ...merge, scene: { ...merge.scene, strokes: merge.strokes.inForce } };
    },
    forget: () => kept.clear(),
  };
}

/** The strokes that can change a part of the merge, or what lies within a margin of it. */
export function strokesReaching(strokes: readonly PlacedStroke[], part: Region, marginPx: number): PlacedStroke[] {
  return strokes.filter(
    ({ region }) =>
      region.x < part.x + part.width + marginPx &&
      part.x - marginPx < region.x + region.width &&
      region.y < part.y + part.height + marginPx &&
      part.y - marginPx < region.y + region.height,
  );
}

function sceneOf(storage: Storage, body: MergeBody): InspectionScene {
  const frames = body.frames.map((f) => {
    const picture = storage.pictures.find(f.pictureId);
    const noise = picture ? pictureInfo(picture)?.noise : null;
    if (!noise) throw new RequestError(409, `The frame ${f.fileName} of this merge has been taken out of the job.`);
    const { geometry, tone } = f;
    return { tiles: storage.folder.tiles(f.pictureId), noise, geometry, tone };
  });
  return { merge: { tiles: storage.folder.tiles(body.tilesId), noise: body.noise }, frames, strokes: [] };
}
