// Room kept for the database: on a full disk a stroke or a decision must still be recorded.
import { closeSync, openSync, rmSync, statSync, statfsSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';

/** Thousands of strokes fit into this. */
const RESERVE_BYTES = 16e6;
/** The reserve is put back only while so many times its size is free. */
const REFILL_FACTOR = 4;

export interface Reserve {
  /** Gives the room to whoever writes next; false when it has been given already. */
  spend(): boolean;
  /** Puts the reserve back when the disk has room again. */
  refill(): void;
}

/**
 * A file that takes up room until it is needed.
 * @param path of the file; its blocks are written, since a sparse file would keep nothing
 */
export function openReserve(path: string): Reserve {
  const isThere = (): boolean => (statSync(path, { throwIfNoEntry: false })?.size ?? 0) >= RESERVE_BYTES;
  const reserve: Reserve = {
    spend() {
      if (!isThere()) return false;
      rmSync(path, { force: true });
      return true;
    },
    refill() {
      const { bavail, bsize } = statfsSync(dirname(path));
      if (isThere() || bavail * bsize < REFILL_FACTOR * RESERVE_BYTES) return;
      const fd = openSync(path, 'w');
      try {
        const block = Buffer.alloc(1e6);
        for (let at = 0; at < RESERVE_BYTES; at += block.length) writeSync(fd, block, 0, block.length, at);
      } finally {
        closeSync(fd);
      }
    },
  };
  reserve.refill();
  return reserve;
}
