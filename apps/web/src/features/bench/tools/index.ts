// All tools, in the order of their buttons. A new one is a file of its own and a line here.
import { acrossEdge } from './acrossEdge';
import { alongLine } from './alongLine';
import { bothSides } from './bothSides';
import { evenOut } from './evenOut';
import { fadeAlong } from './fadeAlong';
import { fadeRound } from './fadeRound';
import { matchTone } from './matchTone';
import { nudge } from './nudge';
import { outline } from './outline';
import { outlineArea } from './outlineArea';
import { paint } from './paint';
import { pullLine } from './pullLine';
import { takeBack } from './takeBack';
import type { Tool } from './tool';
import { wholeThing } from './wholeThing';

const ALL = [
  ...[paint, wholeThing, takeBack, matchTone, outlineArea, fadeAlong, fadeRound, evenOut, nudge, pullLine],
  ...[alongLine, acrossEdge, bothSides, outline],
] as const;

export type ToolId = (typeof ALL)[number]['id'];

export const TOOLS: readonly Tool<ToolId>[] = ALL;

export const toolOf = (id: ToolId): Tool<ToolId> => TOOLS.find((tool) => tool.id === id)!;
export type { Brush, Grown, Hand, Outcome, PenSample, Tool } from './tool';
export type { StrokeDraft } from './strokeTool';
