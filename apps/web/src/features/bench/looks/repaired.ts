// The merge with its repairs: where work goes on.
import type { Look } from './look';

export const repaired: Look<'repaired'> = {
  id: 'repaired',
  label: () => 'Repaired',
  key: { label: 'The merge with its repairs', letter: 'e', shown: 'E' },
  place: 'bar',
  panes: () => [{ layers: [{ of: 'repaired' }] }],
};
