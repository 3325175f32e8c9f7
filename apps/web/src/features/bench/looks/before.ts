// The merge as it came.
import type { Look } from './look';

export const before: Look<'before'> = {
  id: 'before',
  label: () => 'Before',
  key: { label: 'The merge before repair', letter: 'q', shown: 'Q' },
  place: 'bar',
  panes: () => [{ layers: [{ of: 'before' }] }],
};
