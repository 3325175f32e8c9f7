// Tools that draw around a place roughly and leave it to the server what becomes of it, with the frame in hand.
import { drawOutline, extendOutline, finishOutline, type OutlineDraft } from './outlineDraft';
import type { Tool } from './tool';

interface RoughDraft extends OutlineDraft {
  readonly donor: number | null;
}

export function roughTool<Id extends string>(
  kind: 'fit' | 'even',
  tool: Pick<Tool<Id>, 'id' | 'name' | 'words' | 'hint' | 'place'>,
): Tool<Id, RoughDraft> {
  return {
    ...tool,
    group: 'repair',
    settings: [],
    isReady: ({ donor }) => donor !== null,
    donorOf: ({ donor }) => donor,
    begin: ({ x, y }, { donor }) => ({ donor, points: [[x, y]] }),
    extend: (draft, samples) => [{ ...draft, ...extendOutline(draft, samples) }, null],
    shown: () => null,
    finish(draft) {
      const polygon = finishOutline(draft);
      const { donor } = draft;
      return polygon && donor !== null ? { kind: 'order', order: { kind, donor, polygon } } : null;
    },
    draw: (context, camera, at, _brush, draft) => drawOutline(context, camera, at, draft),
  };
}
