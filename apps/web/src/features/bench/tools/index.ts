// All tools, in the order of their buttons. A new one is a file of its own and a line here.
import { paint } from './paint';
import { takeBack } from './takeBack';

export const TOOLS = [paint, takeBack] as const;

export type ToolId = (typeof TOOLS)[number]['id'];

export const toolOf = (id: ToolId) => TOOLS.find((tool) => tool.id === id)!;
export type { Brush, Grown, Hand, PenSample, Tool } from './tool';
export type { StrokeDraft } from './strokeTool';
