// Table `kit`: one row with the user's cameras and lenses.
import { kitSchema, type Kit } from '@blendrak/contract';
import { z } from 'zod';
import type { Db } from '../openDatabase';

export function kitTable(db: Db) {
  const get = db.prepare<[], { body: string }>('SELECT body FROM kit WHERE id = 1');
  const put = db.prepare<[string]>(
    'INSERT INTO kit (id, body) VALUES (1, ?) ON CONFLICT(id) DO UPDATE SET body = excluded.body',
  );
  return {
    get: (): Kit | null => {
      const row = get.get();
      // Kits that were kept before jobs told anything have no list of it.
      return row
        ? kitSchema.parse({ measured: [], ...z.record(z.string(), z.unknown()).parse(JSON.parse(row.body)) })
        : null;
    },
    put: (kit: Kit) => put.run(JSON.stringify(kit)),
  };
}
