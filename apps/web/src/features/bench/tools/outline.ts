// Mark: a defect that nobody found is outlined by hand.
import { drawOutline, extendOutline, finishOutline, type OutlineDraft } from './outlineDraft';
import type { Tool } from './tool';

export const outline: Tool<'outline', OutlineDraft> = {
  id: 'outline',
  name: 'Mark',
  words: { label: 'Mark a defect by hand', keys: ['o'], shown: 'O' },
  hint: 'Draw around a defect that was not found: it is traced to its frames like the others',
  group: 'look',
  place: 'bar',
  settings: [],
  isReady: () => true,
  donorOf: () => null,
  begin: ({ x, y }) => ({ points: [[x, y]] }),
  extend: (draft, samples) => [extendOutline(draft, samples), null],
  shown: () => null,
  finish(draft) {
    const polygon = finishOutline(draft);
    return polygon && { kind: 'mark', polygon };
  },
  draw: (context, camera, at, _brush, draft) => drawOutline(context, camera, at, draft),
};
