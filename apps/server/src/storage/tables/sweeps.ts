// Table `sweeps`: what of a merge was looked at at full size.
import type { Db } from '../openDatabase';

export function sweepsTable(db: Db) {
  const find = db.prepare<[string], { seen: Buffer }>('SELECT seen FROM sweeps WHERE merge_id = ?');
  const keep = db.prepare<[string, Uint8Array]>(
    'INSERT INTO sweeps (merge_id, seen) VALUES (?, ?) ON CONFLICT (merge_id) DO UPDATE SET seen = excluded.seen',
  );
  return {
    /** A byte per square; undefined where nobody looked. */
    find: (mergeId: string): Uint8Array | undefined => find.get(mergeId)?.seen,
    keep: (mergeId: string, seen: Uint8Array) => keep.run(mergeId, seen),
  };
}
