// Which files this process holds open, in any of its threads.
import { readdirSync, readlinkSync } from 'node:fs';

/** What its descriptors lead to; one that is closed meanwhile is left out. */
export function heldFiles(): string[] {
  return readdirSync('/proc/self/fd').flatMap((fd) => {
    try {
      return [readlinkSync(`/proc/self/fd/${fd}`)];
    } catch {
      return [];
    }
  });
}
