// From the angle (or the print) wanted to the frames of a panorama: head positions, canvas, files, parallax.
import { pictureBytes, pixelsForPrint, printLengthMm } from '../print';
import { checkPanoramaRequest, warnOfPanorama } from './checkPanorama';
import { pixelPitchMm } from './circleOfConfusion';
import { fieldOfViewDeg, framesAlong } from './fieldOfView';
import { canvasOf, directionOf, PROJECTIONS, type HeadPosition, type Projection } from './panoramaCanvas';
import type { PanoramaRequest } from './panoramaRequest';
import { judgeParallax, parallaxPx, type ParallaxVerdict } from './parallax';
import { gatherProblems, hasErrors, type FieldProblem, type ProblemList } from './problem';
import { lightDriftEv, seriesBytes, seriesTimeS } from './seriesTime';

/** What a projection makes of the panorama. */
export interface CanvasPlan {
  readonly projection: Projection;
  readonly width: number;
  readonly height: number;
  readonly megapixels: number;
  /** Flat TIFF of 16 bits. */
  readonly bytes16: number;
  /** Memory while editing: 16 bits, with a mask and a copy for undo. */
  readonly memoryBytes: number;
  readonly printWidthMm: number;
  readonly printHeightMm: number;
}

export interface PanoramaPlan {
  readonly focalLengthMm: number;
  /** Angle of one frame as held. */
  readonly frameDeg: readonly [horizontal: number, vertical: number];
  readonly columns: number;
  readonly rows: number;
  /** In shooting order: row by row from the bottom, each from the left. */
  readonly heads: readonly HeadPosition[];
  readonly turnDeg: number;
  readonly tiltDeg: number;
  /** Overlap that comes of spreading the frames evenly. */
  readonly trueOverlap: readonly [horizontal: number, vertical: number];
  /** All projections that can show the angle. */
  readonly canvases: readonly CanvasPlan[];
  /** The chosen one. */
  readonly canvas: CanvasPlan;
  /** Vertical angle that every column shows all along, degrees: what is left of the frames' height after cropping straight. */
  readonly cleanVerticalDeg: number;
  readonly parallaxPx: number;
  readonly parallax: ParallaxVerdict;
  /** Offset of the pupil from the axis that would still go unseen, mm. */
  readonly allowedOffsetMm: number;
  readonly frames: number;
  readonly timeS: number;
  readonly driftEv: number;
  readonly bytes: { readonly raw: number; readonly tiff: number };
}

export interface PanoramaAnswer {
  readonly problems: readonly FieldProblem[];
  readonly plan: PanoramaPlan | null;
}

const RAD = Math.PI / 180;
const MOST_DIRECTIONS = 999;

/** Plans a panorama; never throws for what a person can type: problems name the field. */
export function planPanorama(request: PanoramaRequest): PanoramaAnswer {
  const list = gatherProblems();
  checkPanoramaRequest(list, request);
  if (hasErrors(list.problems)) return { problems: list.problems, plan: null };
  const focalLengthMm = request.from === 'print' ? focalForPrint(request) : request.focalLengthMm;
  if (request.from === 'print')
    list.range('printWidthMm', 'focal length that this print asks for', focalLengthMm, 4, 2000, 'mm');
  if (hasErrors(list.problems)) return { problems: list.problems, plan: null };
  const plan = arrange(list, request, focalLengthMm);
  if (plan) warnOfPanorama(list, request, plan);
  return { problems: list.problems, plan };
}

/** Focal length whose canvas is as wide as the print asks for; canvases grow in proportion to it. */
function focalForPrint(request: PanoramaRequest): number {
  const { camera, horizontalDeg, verticalDeg, projection, ppi, printWidthMm } = request;
  const px = pixelsForPrint(printWidthMm, ppi);
  const pitch = pixelPitchMm(camera);
  if (projection !== 'repositioned') return (px * pitch) / canvasOf(projection, horizontalDeg, verticalDeg, 1)!.width;
  // Frames laid side by side: the canvas of a flat middle, close enough to start from, since frames round it up.
  return (px * pitch) / (horizontalDeg * RAD);
}

function frameSides({ camera, orientation }: PanoramaRequest): {
  mm: readonly [number, number];
  px: readonly [number, number];
} {
  const { sensorWidthMm: w, sensorHeightMm: h, pixelsWide, pixelsHigh } = camera;
  const landscape = w >= h === (orientation === 'landscape');
  return landscape ? { mm: [w, h], px: [pixelsWide, pixelsHigh] } : { mm: [h, w], px: [pixelsHigh, pixelsWide] };
}

function arrange(list: ProblemList, request: PanoramaRequest, focalLengthMm: number): PanoramaPlan | null {
  const { overlap, edgeMargin, camera, exposuresEach } = request;
  const sides = frameSides(request);
  const frameDeg = [fieldOfViewDeg(sides.mm[0], focalLengthMm), fieldOfViewDeg(sides.mm[1], focalLengthMm)] as const;
  const wantedX = Math.min(360, request.horizontalDeg * (1 + 2 * edgeMargin));
  const wantedY = Math.min(180, request.verticalDeg * (1 + 2 * edgeMargin));
  const rows = framesAlong(wantedY, frameDeg[1], overlap);
  const pitches = spread(rows, wantedY, frameDeg[1]);
  // A tilted row is narrowest, in yaw, at its edge toward the horizon: its frames are spaced for that edge.
  const narrowest = Math.min(...pitches.map((pitch) => narrowestYawDeg(pitch, sides.mm, focalLengthMm)));
  const columns = framesAlong(wantedX, narrowest, overlap);
  if (columns * rows * exposuresEach > MOST_DIRECTIONS) {
    list.error(
      request.from === 'print' ? 'printWidthMm' : 'focalLengthMm',
      `This takes ${columns} × ${rows} directions${exposuresEach > 1 ? ` of ${exposuresEach} exposures` : ''}: up to ` +
        `${MOST_DIRECTIONS} frames are accepted. A shorter lens, a smaller angle or less overlap needs fewer.`,
    );
    return null;
  }
  const yaws = wantedX >= 360 ? around(columns) : spread(columns, wantedX, narrowest);
  const heads = pitches.flatMap((pitchDeg) => yaws.map((yawDeg) => ({ yawDeg, pitchDeg })));
  const turnDeg = columns > 1 ? yaws[1]! - yaws[0]! : 0;
  const tiltDeg = rows > 1 ? pitches[1]! - pitches[0]! : 0;
  const pitchMm = pixelPitchMm(camera);
  const canvases = PROJECTIONS.flatMap((projection) => {
    const size = sizeOf(
      projection,
      request,
      focalLengthMm / pitchMm,
      sides.px,
      [columns, rows],
      [turnDeg, tiltDeg],
      frameDeg,
    );
    return size ? [canvasPlan(projection, size, request.ppi)] : [];
  });
  const frames = heads.length * exposuresEach;
  const timeS = seriesTimeS(frames, request);
  const shift = {
    pupilOffsetMm: request.pupilOffsetMm,
    turnDeg: Math.max(turnDeg, tiltDeg),
    nearestMm: request.nearestMm,
    farthestMm: request.farthestMm ?? Infinity,
    focalLengthMm,
    pixelPitchMm: pitchMm,
  };
  const px = parallaxPx(shift);
  const perMm = parallaxPx({ ...shift, pupilOffsetMm: 1 });
  return {
    focalLengthMm,
    frameDeg,
    columns,
    rows,
    heads,
    turnDeg,
    tiltDeg,
    trueOverlap: [1 - turnDeg / frameDeg[0], 1 - tiltDeg / frameDeg[1]],
    canvases,
    canvas: canvases.find((c) => c.projection === request.projection)!,
    cleanVerticalDeg: cleanHeightDeg(pitches, sides.mm, focalLengthMm, farthestYaw(columns, wantedX, turnDeg)),
    parallaxPx: px,
    parallax: judgeParallax(px),
    allowedOffsetMm: perMm > 0 ? Math.min(500, 0.5 / perMm) : 500,
    frames,
    timeS,
    driftEv: Math.abs(lightDriftEv(request.lightDriftEvPerMin, timeS)),
    bytes: seriesBytes(frames, camera.pixelsWide * camera.pixelsHigh),
  };
}

/** Centres of frames that cover an angle from edge to edge, symmetric about 0. */
function spread(count: number, wantedDeg: number, frameDeg: number): number[] {
  if (count === 1) return [0];
  const step = (wantedDeg - frameDeg) / (count - 1);
  return Array.from({ length: count }, (_, k) => (k - (count - 1) / 2) * step);
}

function around(count: number): number[] {
  return Array.from({ length: count }, (_, k) => (k * 360) / count - 180 + 180 / count);
}

/** Yaw that a frame covers at its narrowest edge once tilted. */
function narrowestYawDeg(pitchDeg: number, [w, h]: readonly [number, number], focalLengthMm: number): number {
  const y = ((pitchDeg > 0 ? -1 : 1) * h) / (2 * focalLengthMm);
  const [yaw] = directionOf({ yawDeg: 0, pitchDeg }, w / (2 * focalLengthMm), y);
  return (2 * yaw) / RAD;
}

/** How far from the middle of its frame a wanted place can lie: all of the frame at the ends, half a turn in a full circle. */
function farthestYaw(columns: number, wantedDeg: number, turnDeg: number): number {
  if (columns === 1) return wantedDeg / 2;
  return wantedDeg >= 360 ? turnDeg / 2 : 90;
}

/** Height, in degrees, that stays when the curved upper and lower edges of the outer rows are cropped straight. */
function cleanHeightDeg(
  pitches: readonly number[],
  [w, h]: readonly [number, number],
  focalLengthMm: number,
  halfYawDeg: number,
): number {
  const outer = Math.min(w / 2, Math.tan(Math.min(80, halfYawDeg) * RAD) * focalLengthMm);
  const at = (pitchDeg: number, side: 1 | -1, x: number): number =>
    directionOf({ yawDeg: 0, pitchDeg }, x / focalLengthMm, (side * h) / (2 * focalLengthMm))[1] / RAD;
  const top = Math.min(at(pitches.at(-1)!, 1, 0), at(pitches.at(-1)!, 1, outer));
  const bottom = Math.max(at(pitches[0]!, -1, 0), at(pitches[0]!, -1, outer));
  return top - bottom;
}

function sizeOf(
  projection: Projection,
  { horizontalDeg, verticalDeg }: PanoramaRequest,
  focalPx: number,
  [w, h]: readonly [number, number],
  [columns, rows]: readonly [number, number],
  [turnDeg, tiltDeg]: readonly [number, number],
  frameDeg: readonly [number, number],
): { width: number; height: number } | null {
  if (projection !== 'repositioned') return canvasOf(projection, horizontalDeg, verticalDeg, focalPx);
  if (horizontalDeg >= 360) return null;
  // Frames keep their shape and are shifted by what matches at their middle.
  return {
    width: w + (columns - 1) * w * (turnDeg / frameDeg[0]),
    height: h + (rows - 1) * h * (tiltDeg / frameDeg[1]),
  };
}

function canvasPlan(projection: Projection, size: { width: number; height: number }, ppi: number): CanvasPlan {
  const width = Math.round(size.width);
  const height = Math.round(size.height);
  const bytes16 = pictureBytes(width, height, 16);
  return {
    projection,
    width,
    height,
    megapixels: (width * height) / 1e6,
    bytes16,
    // The picture, one mask of 16 bits, and as much again to undo with.
    memoryBytes: 2 * (bytes16 + bytes16 / 3),
    printWidthMm: printLengthMm(width, ppi),
    printHeightMm: printLengthMm(height, ppi),
  };
}
