// What of a merge was looked at at full size, and for how long: by all who look at it together.
import { SWEEP_CELL_PX, type Sweep } from '@blendrak/contract';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';

const gridOf = ({ width, height }: { readonly width: number; readonly height: number }) => ({
  columns: Math.ceil(width / SWEEP_CELL_PX),
  rows: Math.ceil(height / SWEEP_CELL_PX),
});

export function sweepOf({ storage, merges }: Services, mergeId: string): Sweep {
  const grid = gridOf(merges.body(mergeId));
  const seen = storage.sweeps.find(mergeId) ?? new Uint8Array(grid.columns * grid.rows);
  return { ...grid, seen: Buffer.from(seen).toString('base64') };
}

/**
 * Adds what somebody looked at since.
 * @param added for each square the quarters of a second since the last time that was told
 * @throws RequestError for another number of squares
 */
export function addToSweep(services: Services, mergeId: string, added: Sweep): Sweep {
  const { storage, merges } = services;
  const grid = gridOf(merges.body(mergeId));
  const more = Buffer.from(added.seen, 'base64');
  if (added.columns !== grid.columns || added.rows !== grid.rows || more.length !== grid.columns * grid.rows) {
    throw new RequestError(
      400,
      `seen: ${more.length} squares of ${added.columns} × ${added.rows}. Accepted: ${grid.columns} × ${grid.rows} for this merge.`,
    );
  }
  storage.transaction(() => {
    const before = storage.sweeps.find(mergeId);
    storage.sweeps.keep(
      mergeId,
      Uint8Array.from(more, (v, i) => Math.min(255, v + (before?.[i] ?? 0))),
    );
  });
  return sweepOf(services, mergeId);
}
