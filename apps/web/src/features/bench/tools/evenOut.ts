// Even out: the tone of a place that was drawn around is brought to lie to the frame in hand as it does around it.
import { roughTool } from './roughTool';

export const evenOut = roughTool('even', {
  id: 'even',
  name: 'Even out',
  place: 'menu',
  words: { label: 'Even out the tone of a place', keys: ['Shift+h'], shown: 'Shift H' },
  hint: 'Draw around a step or a glow: its tone is told by the frame in hand, its detail stays',
});
