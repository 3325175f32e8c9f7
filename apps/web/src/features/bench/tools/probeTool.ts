// Tools that measure along a segment; they differ in what is read there.
import type { PinKind } from '@blendrak/contract';
import { pointOf, segmentTool, type SegmentDraft } from './segmentTool';
import type { Tool } from './tool';

export function probeTool<Id extends string>(
  kind: PinKind,
  tool: Pick<Tool<Id>, 'id' | 'name' | 'words' | 'hint'>,
): Tool<Id, SegmentDraft> {
  return segmentTool(
    { ...tool, group: 'look', place: 'bar', settings: [] },
    {
      leastPx: 8,
      asks: ({ from, to }) => ({ kind: 'measure', pin: { kind, from: pointOf(from), to: pointOf(to) } }),
    },
  );
}
