// Patch probe: one place on either side of a seam, tone, grain and sharpness compared.
import { segmentTool } from './segmentTool';

export const bothSides = segmentTool('patch', {
  id: 'bothSides',
  name: 'Tone',
  words: { label: 'Patch probe: do tone and grain match on both sides?', keys: ['h'], shown: 'H' },
  hint: 'Draw from one side of a seam to the other: tone, grain and sharpness of both ends, against the frames',
});
