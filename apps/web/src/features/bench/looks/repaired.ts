// The merge with its repairs: where work goes on.
import type { Look } from './look';

export const repaired: Look<'repaired'> = {
  id: 'repaired',
  label: () => 'Repaired',
  panes: () => [{ layers: [{ of: 'repaired' }] }],
};
