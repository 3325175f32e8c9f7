// Whole: a thing that was drawn around roughly comes from one frame, in a mask that ends where frame and merge agree.
import { drawOutline, extendOutline, finishOutline, type OutlineDraft } from './outlineDraft';
import type { Tool } from './tool';

interface ThingDraft extends OutlineDraft {
  readonly donor: number | null;
}

export const wholeThing: Tool<'whole', ThingDraft> = {
  id: 'whole',
  name: 'Whole',
  words: { label: 'Take a whole thing from the frame', keys: ['Shift+p'], shown: 'Shift P' },
  hint: 'Draw roughly around a thing: it comes from the frame in hand, wherever that differs and is in focus',
  group: 'repair',
  settings: [],
  isReady: ({ donor }) => donor !== null,
  donorOf: ({ donor }) => donor,
  begin: ({ x, y }, { donor }) => ({ donor, points: [[x, y]] }),
  extend: (draft, samples) => [{ ...draft, ...extendOutline(draft, samples) }, null],
  shown: () => null,
  finish(draft) {
    const polygon = finishOutline(draft);
    return polygon && draft.donor !== null ? { kind: 'fit', donor: draft.donor, polygon } : null;
  },
  draw: (context, camera, at, _hand, draft) => drawOutline(context, camera, at, draft),
};
