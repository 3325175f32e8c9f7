// Paint: a frame is painted in over the merge.
import { strokeTool } from './strokeTool';

export const paint = strokeTool({
  id: 'paint',
  name: 'Paint',
  words: { label: 'Paint with a frame', keys: ['f'], shown: 'F' },
  isReady: ({ donor }) => donor !== null,
  donorOf: ({ donor }) => donor,
});
