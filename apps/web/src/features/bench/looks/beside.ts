// Before and after, side by side and in step: the merge as it came, and beside it the repaired one, where work goes on.
import type { Look } from './look';

export const beside: Look<'beside'> = {
  id: 'beside',
  label: () => 'Side by side',
  key: { label: 'Before and after, side by side', letter: 'x', shown: 'X' },
  place: 'bar',
  panes: () => [{ layers: [{ of: 'before' }] }, { layers: [{ of: 'repaired' }] }],
};
