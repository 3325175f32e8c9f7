// What will be once the server has acknowledged what is unsent.
import fc from 'fast-check';
import type { OperationChange } from '@blendrak/contract';
import { listOf, operationOf, strokeOf } from '../../../testing/merges';
import { foresee } from './foresee';

let count = 0;
const asking = (change: OperationChange, id = `c${++count}`) => ({ id, mergeId: 'm1', page: 'one', change });
const add = (id: string) => asking({ kind: 'add', operation: strokeOf(0) }, id);
const undo = () => asking({ kind: 'undo' });
const redo = () => asking({ kind: 'redo' });
const ids = (...change: Parameters<typeof foresee>): string[] => foresee(...change).operations.map((o) => o.id);

const list = listOf([operationOf('a', 1), operationOf('b', 2)], 1);

it('what is added lies on top, and can be taken back', () => {
  expect(ids(list, [add('x'), add('y')])).toEqual(['a', 'b', 'x', 'y']);
  expect(foresee(list, [add('x')])).toMatchObject({ undoable: 3 });
});

it('undo takes back the last of what is unsent first, redo brings it back', () => {
  expect(ids(list, [add('x'), add('y'), undo()])).toEqual(['a', 'b', 'x']);
  expect(ids(list, [add('x'), undo(), redo()])).toEqual(['a', 'b', 'x']);
  expect(foresee(list, [add('x'), undo()])).toMatchObject({ undoable: 2, redoable: 2 });
});

it('what the server still works out is the last that is taken back, though nobody knows yet what it will be', () => {
  const order = { id: 'w', mergeId: 'm1', page: 'one', order: { kind: 'snap' as const, operationId: 'a', reachPx: 9 } };
  expect(ids(list, [add('x'), order, undo()])).toEqual(['a', 'b', 'x']);
  expect(ids(list, [add('x'), order, undo(), undo()])).toEqual(['a', 'b']);
  expect(foresee(list, [order])).toMatchObject({ undoable: 3 });
});

it('what only the server knows how to take back is left to it, but counted', () => {
  expect(foresee(list, [undo(), undo()])).toEqual({ operations: list.items, undoable: 0, redoable: 3 });
});

it('operations are switched, moved and removed, and all of that comes back', () => {
  const move = asking({ kind: 'patch', operationId: 'a', patch: { order: 5, enabled: false } });
  const remove = asking({ kind: 'remove', operationId: 'b' });
  const after = foresee(list, [move, remove]);
  expect(after.operations).toMatchObject([{ id: 'a', order: 5, enabled: false }]);
  expect(foresee(list, [move, remove, undo(), undo()]).operations).toEqual(list.items);
});

it('a stroke whose answer came while it was still noted is there once', () => {
  expect(ids(list, [add('b')])).toEqual(['a', 'b']);
});

it('as many undos as changes leave what the server has, as many redos bring all back', () => {
  const change = fc.constantFrom('add', 'switch', 'remove');
  fc.assert(
    fc.property(fc.array(change, { maxLength: 8 }), (kinds) => {
      const changes = kinds.map((kind, k) => {
        if (kind === 'add') return add(`n${k}`);
        if (kind === 'remove') return asking({ kind: 'remove', operationId: 'a' });
        return asking({ kind: 'patch', operationId: 'b', patch: { enabled: k % 2 === 0 } });
      });
      const undos = changes.map(undo);
      expect(foresee(list, [...changes, ...undos]).operations).toEqual(list.items);
      expect(foresee(list, [...changes, ...undos, ...changes.map(redo)]).operations).toEqual(
        foresee(list, changes).operations,
      );
    }),
    { seed: 9 },
  );
});
