// Edge probe: across an edge, how the merge's profile differs from each frame's.
import { probeTool } from './probeTool';

export const acrossEdge = probeTool('edge', {
  id: 'acrossEdge',
  name: 'Edge',
  words: { label: 'Edge probe: is there a halo beside an edge?', keys: ['j'], shown: 'J' },
  hint: 'Draw across an edge, from plain to plain: its width, and the height and width of a halo beside it',
});
