// What a crop costs: of the picture, and of what the picture is of.
import { paintArea, type AreaShape, type Region } from '../image';
import { turnedPlace, type Size } from './turnPicture';

export interface CropCost {
  /** Share of the picture's px that are cut off, 0..1. */
  readonly ofPicture: number;
  /** Share of the subject's px that are cut off, 0..1; null where no subject was marked. */
  readonly ofSubject: number | null;
}

/** Cells along the longer side by which a subject is counted. */
const CELLS = 400;

/**
 * Counts what a crop cuts off.
 * @param crop px of the turned picture
 * @param subject in shares of the picture; empty for none
 */
export function cropCost(size: Size, turnDeg: number, crop: Region, subject: readonly AreaShape[]): CropCost {
  const ofPicture = Math.max(0, 1 - (crop.width * crop.height) / (size.width * size.height));
  if (subject.length === 0) return { ofPicture, ofSubject: null };
  const unit = Math.max(size.width, size.height) / CELLS;
  const [columns, rows] = [Math.ceil(size.width / unit), Math.ceil(size.height / unit)];
  const { data } = paintArea(subject, columns, rows);
  const turned = turnedPlace(size, turnDeg);
  let [all, kept] = [0, 0];
  data.forEach((isIn, i) => {
    if (!isIn) return;
    all += 1;
    const [x, y] = turned(
      (((i % columns) + 0.5) * size.width) / columns,
      ((Math.floor(i / columns) + 0.5) * size.height) / rows,
    );
    if (x >= crop.x && y >= crop.y && x < crop.x + crop.width && y < crop.y + crop.height) kept += 1;
  });
  return { ofPicture, ofSubject: all === 0 ? null : 1 - kept / all };
}
