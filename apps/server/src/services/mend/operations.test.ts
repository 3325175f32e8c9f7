// Operations, whatever is done to them and by whom.
import { join } from 'node:path';
import fc from 'fast-check';
import { pino } from 'pino';
import type { OperationChange } from '@blendrak/contract';
import { tileState } from '@blendrak/core/repair';
import { localServices, temporaryFolder } from '../../testing/inProcess';
import { paintStroke } from '../../testing/paint';
import { recordMerge } from '../../testing/plainMerge';
import { makeOperationsService } from './operations';

const { path, clean } = temporaryFolder();
const services = localServices(join(path, 'data'));
/** Findings cannot be looked at again here: there is no picture. */
const calm = { ...services, log: pino({ enabled: false }) };
afterAll(async () => {
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

// Tiles are kept for good by the name of their state: it must always mean the same picture.
it('a state’s name always stands for the same operations in the same order, whatever is done', () => {
  const step = fc.tuple(fc.constantFrom('add', 'undo', 'redo', 'switch', 'move', 'remove'), fc.nat(9), fc.nat(1));
  let walks = 0;
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      const merge = `walk${++walks}`;
      recordMerge(services, merge, 2);
      const repair = makeOperationsService(calm);
      const pictures = new Map<string, string>();
      steps.forEach(([kind, which, person], k) => {
        const all = services.storage.operations.listByMerge(merge);
        const operationId = all[which % Math.max(1, all.length)]?.id;
        const id = `${merge}-${k}-change`;
        const change = ((): OperationChange | null => {
          if (kind === 'add') return { kind, operation: paintStroke(0, [[20 + k, 20]]) };
          if (kind === 'undo' || kind === 'redo') return { kind };
          if (operationId === undefined) return null;
          if (kind === 'remove') return { kind, operationId };
          const patch = kind === 'switch' ? { enabled: which < 5 } : { order: which };
          return { kind: 'patch', operationId, patch };
        })();
        if (change) repair.change(merge, { id, change }, { person: `p${person}` });
        const { operations } = services.merges.painted(merge).scene;
        const fresh = services.storage.operations.listByMerge(merge).filter((o) => o.enabled);
        expect(operations.map((o) => o.id)).toEqual(fresh.map((o) => o.id));
        const state = tileState(operations, { x: 0, y: 0, width: 512, height: 512 }, 512);
        const picture = operations.map((o) => o.id).join();
        expect(pictures.get(state) ?? picture).toBe(picture);
        pictures.set(state, picture);
      });
    }),
    { numRuns: 40, seed: 7 },
  );
});
