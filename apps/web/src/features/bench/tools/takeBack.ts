// Take back: the merge as it came is painted over repairs.
import { strokeTool } from './strokeTool';

export const takeBack = strokeTool({
  id: 'takeBack',
  name: 'Take back',
  words: { label: 'Take repairs back where you paint', keys: ['r'], shown: 'R' },
  isReady: () => true,
  donorOf: () => null,
});
