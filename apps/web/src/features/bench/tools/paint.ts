// Paint: a frame is painted in over the merge.
import { strokeTool } from './strokeTool';

export const paint = strokeTool(
  {
    id: 'paint',
    name: 'Paint',
    words: { label: 'Paint with a frame', keys: ['b'], shown: 'B' },
    isReady: ({ donor }) => donor !== null,
  },
  ({ donor }) => donor,
);
