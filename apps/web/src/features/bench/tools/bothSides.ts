// Patch probe: one place on either side of a seam, tone, grain and sharpness compared.
import { probeTool } from './probeTool';

export const bothSides = probeTool('patch', {
  id: 'bothSides',
  name: 'Tone',
  words: { label: 'Patch probe: do tone and grain match on both sides?', keys: ['h'], shown: 'H' },
  hint: 'Draw from one side of a seam to the other: tone, grain and sharpness of both ends, against the frames',
});
