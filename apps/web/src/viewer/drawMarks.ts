// Marks of regions on the picture: one ink, told apart by shape and line.
import { meets, type Camera } from './camera';

export type MarkStyle =
  | 'double-line'
  | 'dots'
  | 'brackets'
  | 'offset-bars'
  | 'dashes'
  | 'twin-dashes'
  | 'hatched-rim'
  | 'ring'
  | 'stitches'
  | 'cut-corners';

export interface RegionMark {
  readonly polygon: readonly (readonly [number, number])[];
  readonly box: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
  readonly style: MarkStyle;
  readonly strong: boolean;
}

/** Distance of the strokes of a hatched strip, screen px. */
const HATCH_PX = 14;

/** Marks reach so far beyond their regions, CSS px. */
const REACH_PX = 16;

/** Those of some marks that can be seen. */
export function marksInSight<M extends Pick<RegionMark, 'box'>>(marks: readonly M[], camera: Camera): M[] {
  const margin = REACH_PX / camera.zoom;
  const seen = {
    x: camera.originX - margin,
    y: camera.originY - margin,
    width: camera.width / camera.zoom + 2 * margin,
    height: camera.height / camera.zoom + 2 * margin,
  };
  return marks.filter((mark) => meets(mark.box, seen));
}

/** Draws the marks that can be seen; lines keep their width at any zoom. */
export function drawMarks(
  context: CanvasRenderingContext2D,
  view: Camera,
  marks: readonly RegionMark[],
  ink: string,
): void {
  context.strokeStyle = ink;
  for (const mark of marksInSight(marks, view)) {
    context.globalAlpha = mark.strong ? 1 : 0.75;
    context.lineWidth = mark.strong ? 2 : 1.4;
    context.lineCap = 'butt';
    context.setLineDash([]);
    if (mark.style === 'brackets') drawBrackets(context, view, mark);
    else if (mark.style === 'offset-bars') drawOffsetBars(context, view, mark);
    else if (mark.style === 'ring') drawRing(context, view, mark);
    else if (mark.style === 'cut-corners') drawCutCorners(context, view, mark);
    else if (mark.style === 'hatched-rim') drawHatchedRim(context, view, mark);
    else drawOutline(context, view, mark);
  }
}

function drawOutline(context: CanvasRenderingContext2D, view: Camera, mark: RegionMark): void {
  const offsets = mark.style === 'double-line' || mark.style === 'twin-dashes' ? [2, 7] : [4];
  for (const offset of offsets) {
    tracePath(context, view, mark, offset);
    if (mark.style === 'dots') {
      context.lineCap = 'round';
      context.lineWidth = mark.strong ? 3.2 : 2.6;
      context.setLineDash([0.1, 7]);
    } else if (mark.style === 'stitches') {
      // A thin line with short cross strokes.
      context.stroke();
      context.lineWidth = 7;
      context.setLineDash([1.5, 9]);
    } else if (mark.style !== 'double-line') context.setLineDash([6, 4]);
    context.stroke();
  }
}

/** The outline pushed outwards from the region's middle by some screen px, so that it does not cover what it shows. */
function tracePath(context: CanvasRenderingContext2D, view: Camera, mark: RegionMark, offset: number): void {
  const cx = mark.box.x + mark.box.width / 2;
  const cy = mark.box.y + mark.box.height / 2;
  context.beginPath();
  mark.polygon.forEach(([x, y], i) => {
    const length = Math.hypot(x - cx, y - cy) || 1;
    const sx = (x - view.originX) * view.zoom + ((x - cx) / length) * offset;
    const sy = (y - view.originY) * view.zoom + ((y - cy) / length) * offset;
    if (i === 0) context.moveTo(sx, sy);
    else context.lineTo(sx, sy);
  });
  context.closePath();
}

function drawBrackets(context: CanvasRenderingContext2D, view: Camera, mark: RegionMark): void {
  const x0 = (mark.box.x - view.originX) * view.zoom - 5;
  const y0 = (mark.box.y - view.originY) * view.zoom - 5;
  const x1 = (mark.box.x + mark.box.width - view.originX) * view.zoom + 5;
  const y1 = (mark.box.y + mark.box.height - view.originY) * view.zoom + 5;
  const arm = Math.min(14, (x1 - x0) / 3);
  context.beginPath();
  context.moveTo(x0 + arm, y0);
  context.lineTo(x0, y0);
  context.lineTo(x0, y1);
  context.lineTo(x0 + arm, y1);
  context.moveTo(x1 - arm, y0);
  context.lineTo(x1, y0);
  context.lineTo(x1, y1);
  context.lineTo(x1 - arm, y1);
  context.stroke();
}

/** The box without its corners. */
function drawCutCorners(context: CanvasRenderingContext2D, view: Camera, { box }: RegionMark): void {
  const [x0, y0] = [(box.x - view.originX) * view.zoom - 4, (box.y - view.originY) * view.zoom - 4];
  const [x1, y1] = [x0 + box.width * view.zoom + 8, y0 + box.height * view.zoom + 8];
  const cut = Math.min(12, (x1 - x0) / 3, (y1 - y0) / 3);
  context.beginPath();
  context.moveTo(x0 + cut, y0);
  context.lineTo(x1 - cut, y0);
  context.lineTo(x1, y0 + cut);
  context.lineTo(x1, y1 - cut);
  context.lineTo(x1 - cut, y1);
  context.lineTo(x0 + cut, y1);
  context.lineTo(x0, y1 - cut);
  context.lineTo(x0, y0 + cut);
  context.closePath();
  context.stroke();
}

/** A ring around a small place, with a gap at the top. */
function drawRing(context: CanvasRenderingContext2D, view: Camera, { box }: RegionMark): void {
  const x = (box.x + box.width / 2 - view.originX) * view.zoom;
  const y = (box.y + box.height / 2 - view.originY) * view.zoom;
  const radius = (Math.max(box.width, box.height) / 2) * view.zoom + 7;
  context.beginPath();
  context.arc(x, y, radius, -Math.PI / 2 + 0.5, 1.5 * Math.PI - 0.5);
  context.stroke();
}

/** The box with short strokes across its longer sides, as a strip is hatched on paper. */
function drawHatchedRim(context: CanvasRenderingContext2D, view: Camera, { box }: RegionMark): void {
  const [x0, y0] = [(box.x - view.originX) * view.zoom, (box.y - view.originY) * view.zoom];
  const [w, h] = [box.width * view.zoom, box.height * view.zoom];
  context.beginPath();
  context.rect(x0, y0, w, h);
  for (let d = HATCH_PX; d < w + h; d += HATCH_PX) {
    const [ax, ay] = [Math.min(d, w), Math.max(0, d - w)];
    const [bx, by] = [Math.max(0, d - h), Math.min(d, h)];
    context.moveTo(x0 + ax, y0 + ay);
    context.lineTo(x0 + bx, y0 + by);
  }
  context.stroke();
}

/** Bars along the box's upper and lower side, shifted against each other. */
function drawOffsetBars(context: CanvasRenderingContext2D, view: Camera, mark: RegionMark): void {
  const x0 = (mark.box.x - view.originX) * view.zoom;
  const x1 = (mark.box.x + mark.box.width - view.originX) * view.zoom;
  const y0 = (mark.box.y - view.originY) * view.zoom;
  const y1 = (mark.box.y + mark.box.height - view.originY) * view.zoom;
  const shift = Math.min(10, (x1 - x0) / 4);
  context.beginPath();
  for (const [y, by] of [
    [y0 - 9, -shift],
    [y0 - 4, shift],
    [y1 + 4, -shift],
    [y1 + 9, shift],
  ] as const) {
    context.moveTo(x0 + by, y);
    context.lineTo(x1 + by, y);
  }
  context.stroke();
}
