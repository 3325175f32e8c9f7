// Whole: a thing that was drawn around roughly comes from one frame, in a mask that ends where frame and merge agree.
import { roughTool } from './roughTool';

export const wholeThing = roughTool('fit', {
  id: 'whole',
  name: 'Whole',
  place: 'bar',
  words: { label: 'Take a whole thing from the frame', keys: ['Shift+p'], shown: 'Shift P' },
  hint: 'Draw roughly around a thing: it comes from the frame in hand, wherever that differs and is in focus',
});
