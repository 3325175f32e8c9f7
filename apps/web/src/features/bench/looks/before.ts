// The merge as it came.
import type { Look } from './look';

export const before: Look<'before'> = {
  id: 'before',
  label: () => 'Before',
  peek: { label: 'See the merge before repair', keys: ['q'], shown: 'hold Q' },
  panes: () => [{ layers: [{ of: 'before' }] }],
};
