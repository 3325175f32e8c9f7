// What the operations of a merge will be once the server has acknowledged what is unsent: what a person did shows at once.
import type { Operation, OperationState } from '@blendrak/contract';
import type { OperationList } from '../../../shared/queries';
import { isOrder, type Unsent } from './unsent';

/** Operations with what is unsent done, in the order in which they act. */
export interface Foreseen {
  readonly operations: readonly Operation[];
  readonly undoable: number;
  readonly redoable: number;
}

type Undo = (operations: readonly Operation[]) => readonly Operation[];

/**
 * @param unsent of this merge and this person, in order; undo and redo of what only the server knows are left to it
 */
export function foresee({ items, undoable, redoable }: OperationList, unsent: readonly Unsent[]): Foreseen {
  let operations = items;
  /** How to take back, and make again, what is done here. */
  const done: { readonly undo: Undo; readonly redo: Undo }[] = [];
  const undone: typeof done = [];
  let [canUndo, canRedo] = [undoable, redoable];
  const known = new Set(items.map((o) => o.id));
  for (const one of unsent) {
    if (isOrder(one)) {
      // What it becomes is known when it is there; taking it back takes back nothing else.
      const same = (list: readonly Operation[]): readonly Operation[] => list;
      done.push({ undo: same, redo: same });
      canUndo += 1;
      continue;
    }
    const { id, change } = one;
    if (change.kind === 'undo' || change.kind === 'redo') {
      const [from, to] = change.kind === 'undo' ? [done, undone] : [undone, done];
      const step = from.pop();
      if (step) {
        operations = change.kind === 'undo' ? step.undo(operations) : step.redo(operations);
        to.push(step);
      }
      const by = change.kind === 'undo' ? 1 : -1;
      canUndo = Math.max(0, canUndo - by);
      canRedo = Math.max(0, canRedo + by);
      continue;
    }
    // An answer that came while this was noted: the server has it already.
    if (change.kind === 'add' && known.has(id)) continue;
    const redo = (list: readonly Operation[]): readonly Operation[] => {
      if (change.kind === 'add') return [...list, appended(list, id, change.operation)];
      if (change.kind === 'remove') return list.filter((o) => o.id !== change.operationId);
      return sorted(list.map((o) => (o.id === change.operationId ? { ...o, ...given(change.patch) } : o)));
    };
    const before = operations.find((o) => change.kind !== 'add' && o.id === change.operationId);
    const undo = (list: readonly Operation[]): readonly Operation[] => {
      const rest = list.filter((o) => o.id !== (change.kind === 'add' ? id : change.operationId));
      return before ? sorted([...rest, before]) : rest;
    };
    operations = redo(operations);
    done.push({ undo, redo });
    canUndo += 1;
  }
  return { operations, undoable: canUndo, redoable: canRedo };
}

function appended(
  list: readonly Operation[],
  id: string,
  operation: Pick<Operation, 'kind' | 'donor' | 'shape'>,
): Operation {
  const order = 1 + Math.max(0, ...list.map((o) => o.order));
  return { ...operation, id, order, revision: -1, enabled: true, name: '', variant: '', mask: null };
}

function given(patch: {
  readonly [K in keyof OperationState]?: OperationState[K] | undefined;
}): Partial<OperationState> {
  return Object.fromEntries(Object.entries(patch).filter(([, value]) => value !== undefined));
}

function sorted(list: readonly Operation[]): readonly Operation[] {
  return list.toSorted((a, b) => a.order - b.order);
}
