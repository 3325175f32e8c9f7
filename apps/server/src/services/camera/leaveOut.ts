// A slice that was never shot: its file goes, and the numbering of the others gives nothing away.
import { renameSync, rmSync } from 'node:fs';
import type { Photographed } from './photograph';

/**
 * Takes a frame's file off the card and numbers the later ones on without a gap.
 * @param index of the frame to lose; null loses none
 * @returns the set with the files' new paths; indices stay, the lost frame's path no longer exists
 */
export function leaveOut(set: Photographed, index: number | null): Photographed {
  if (index === null) return set;
  const paths = set.files.map((file) => file.path);
  rmSync(paths[index]!);
  const files = set.files.map((file, k) => {
    if (k <= index) return file;
    const path = paths[k - 1]!;
    renameSync(file.path, path);
    return { ...file, path };
  });
  return { ...set, files };
}
