// Take back: the merge as it came is painted over repairs.
import { strokeTool } from './strokeTool';

export const takeBack = strokeTool({
  id: 'takeBack',
  name: 'Take back',
  words: { label: 'Take repairs back where you paint', keys: ['r'], shown: 'R' },
  hint: 'Paint where repairs are to go: the merge as it came shows again',
  isReady: () => true,
  donorOf: () => null,
});
