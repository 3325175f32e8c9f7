// Paint: a frame is painted in over the merge.
import { strokeTool } from './strokeTool';

export const paint = strokeTool({
  id: 'paint',
  name: 'Paint',
  words: { label: 'Paint with a frame', keys: ['f'], shown: 'F' },
  hint: 'Paint: the place is shown as the frame in hand shows it',
  isReady: ({ donor }) => donor !== null,
  donorOf: ({ donor }) => donor,
});
