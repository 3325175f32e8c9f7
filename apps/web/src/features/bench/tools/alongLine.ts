// Line probe: along a cable, a pole or a straight edge, whether it goes on straight where the merge changes frames.
import { probeTool } from './probeTool';

export const alongLine = probeTool('line', {
  id: 'alongLine',
  name: 'Line',
  words: { label: 'Line probe: does a line go on straight?', keys: ['l'], shown: 'L' },
  hint: 'Draw along a cable, a pole or a straight edge: offset and kink where the merge changes frames',
});
