// From an assignment to a series of exposures and the geometry of the merge that belongs to them.
import { blurDiameterPx, CORRECTED, imageDistanceMm, type Lens } from '../optics/lens';
import { pupilPosition, rotationOf, type Vec3 } from '../optics/pose';
import type { View } from '../optics/view';
import type { Stage } from '../render/stage';
import type { DustSpot, Sensor } from '../render/sensor';
import type { Shot } from '../render/takeFrame';
import { cove, coveLandmarks } from '../world/cove';
import { gearTrain } from '../world/gearTrain';
import { lampRoom } from '../world/lampRoom';
import { smooth, type World } from '../world/layer';
import { between, makeRandom, normalPair, type Random } from '../world/random';
import { signalFlags } from '../world/signalFlags';
import { checkAssignment, KIND_OF, type Assignment, type SetKind } from './assignment';

/** A set ready to be photographed: everything follows from the assignment. */
export interface SetPlan {
  readonly assignment: Assignment;
  readonly kind: SetKind;
  readonly stage: Stage;
  readonly shots: readonly PlannedShot[];
  /** The set as it is delivered: each frame is one shot, or a blend of two. */
  readonly frames: readonly FrameSource[];
  /** Geometry of a merge made elsewhere. */
  readonly canvas: View;
  /** Time of the picture that a perfect merge would show. */
  readonly referenceS: number;
}

/** Where a delivered frame comes from. */
export interface FrameSource {
  /** Index of the shot whose geometry and exposure the frame has. */
  readonly shot: number;
  /** A darker shot that was blended in towards the top of the frame, for the sky. */
  readonly sky: number | null;
}

/** Between these heights of a blended frame (shares from the top) the sky's exposure gives way to the ground's. */
const SKY_BLEND = [0.45, 0.62] as const;

/** Share of the sky's exposure in a blended frame at a row, px. */
export function skyShare(frameHeight: number, y: number): number {
  return 1 - smooth(SKY_BLEND[0] * frameHeight, SKY_BLEND[1] * frameHeight, y);
}

export interface PlannedShot extends Shot {
  /** Exposure time as the camera's dial says it, s. */
  readonly exposureS: number;
  /** Intended exposure against the nominal one, EV: what a bracket steps. */
  readonly intendedEv: number;
  /** Row and column in a panorama. */
  readonly place: readonly [number, number];
}

/** A small sensor close up, a large one in the field. */
const CLOSE_UP_SENSOR = { photonNoise: 0.008, readNoise: 0.0012 };
const FIELD_SENSOR = { photonNoise: 0.0045, readNoise: 0.0003 };
/** Pitch of the close-up camera; the others fill a sensor 36 mm long. */
const CLOSE_UP_PITCH_MM = 0.0059;
const LONG_SIDE_MM = 36;
const UNCORRECTED = { distortion: -0.035, vignetting: 0.45, lateralColour: 0.0007 };
/** Light of the series wavers by this share from frame to frame. */
const FLICKER = 0.008;

/**
 * Plans a set.
 * @throws SettingError for settings no camera takes
 */
export function planSet(assignment: Assignment): SetPlan {
  checkAssignment(assignment);
  const random = makeRandom(assignment.seed * 104729 + 5);
  switch (KIND_OF[assignment.subject]) {
    case 'focus-stack':
      return planStack(assignment, random);
    case 'panorama':
      return planPanorama(assignment, random);
    case 'bracket':
      return planBracket(assignment, random);
  }
}

interface Hand {
  readonly yaw: number;
  readonly pitch: number;
  readonly roll: number;
  readonly drift: Vec3;
}

function makeStage(world: World, tangentPerUnit: number, canvas: View): Stage {
  return { world, tangentPerUnit, grainUnits: 1 / (canvas.focalPx * tangentPerUnit) };
}

/** How the camera stands at a frame: a tripod gives a little, a hand wanders. */
function holdCamera(random: Random, support: 'tripod' | 'hand', anglePerPx: number, k: number): Hand {
  const [a, b] = normalPair(random);
  const [c, d] = normalPair(random);
  const [e, f] = normalPair(random);
  const held = support === 'hand';
  const turn = anglePerPx * (held ? 14 : 2.5);
  const step = held ? 1.5 * Math.sqrt(k) : 0;
  return {
    yaw: a * turn,
    pitch: b * turn,
    roll: (c * (held ? 0.25 : 0.02) * Math.PI) / 180,
    drift: [d * step, e * step, f * step],
  };
}

function makeLens({ settings: s }: Assignment, pixelPitchMm: number): Lens {
  const lens = { ...CORRECTED, focalLengthMm: s.focalLengthMm, fNumber: s.fNumber, pixelPitchMm };
  return s.uncorrected ? { ...lens, ...UNCORRECTED } : lens;
}

function makeSensor({ subject, seed, width, height, settings: s }: Assignment): Sensor {
  const random = makeRandom(seed * 619 + 71);
  // Shadows of specks are small and dark at small apertures, large and faint at wide ones.
  const size = (Math.max(width, height) / 4000) * 26 * Math.sqrt(8 / s.fNumber);
  const dust = Array.from({ length: s.dust }, (): DustSpot => {
    const radiusPx = Math.max(3, size * between(random, 0.4, 1));
    const depth = between(random, 0.2, 0.45) * Math.min(1.3, s.fNumber / 8);
    return { xPx: between(random, 0.05, 0.95) * width, yPx: between(random, 0.05, 0.95) * height, radiusPx, depth };
  });
  return { ...(KIND_OF[subject] === 'focus-stack' ? CLOSE_UP_SENSOR : FIELD_SENSOR), dust };
}

/** Lower frame, and the upper one blended from its two exposures. */
const NESTED: readonly FrameSource[] = [
  { shot: 0, sky: null },
  { shot: 1, sky: 2 },
];

function eachShot(shots: readonly PlannedShot[]): FrameSource[] {
  return shots.map((_, shot) => ({ shot, sky: null }));
}

/** What is common to all exposures: light, noise, shake, the odd frame. */
function expose(
  assignment: Assignment,
  random: Random,
  k: number,
  lens: Lens,
  sensor: Sensor,
  startS: number,
  exposureS: number,
  intendedEv: number,
): Omit<PlannedShot, 'view' | 'focusMm' | 'place'> {
  const { settings: s } = assignment;
  const [g, angle] = normalPair(random);
  const drift = s.lightDriftEvPerMin * (startS / 60);
  const shaken = s.shakenFrame === k;
  const length = shaken ? 0.0022 * assignment.width + 2 : 0;
  const fringed = s.fringedFrame === k;
  return {
    lens: fringed ? { ...lens, lateralColour: lens.lateralColour + 0.0016 } : lens,
    sensor,
    startS,
    shutterS: exposureS,
    exposureS,
    intendedEv,
    gain: (1 + g * FLICKER) * 2 ** (drift + intendedEv),
    whiteBalance: [1, 1, 1],
    amplification: s.iso / 100,
    shakePx: [length * Math.cos(angle), length * Math.sin(angle)],
    noiseSeed: Math.floor(between(random, 1, 2 ** 31)),
  };
}

function planStack(assignment: Assignment, random: Random): SetPlan {
  const { subject, seed, width, height, frames, settings: s } = assignment;
  const world = subject === 'gear-train' ? gearTrain(seed, height / width) : signalFlags(seed, height / width);
  const lens = makeLens(assignment, CLOSE_UP_PITCH_MM);
  const sensor = makeSensor(assignment);
  const { nearMm, farMm } = world;
  // The merge has the magnification of the nearest focus: all other frames show a little more.
  const focalPx = (focusMm: number): number => imageDistanceMm(lens, focusMm) / lens.pixelPitchMm;
  const shots = Array.from({ length: frames }, (_, k): PlannedShot => {
    const spread = (1 / farMm - 1 / nearMm) / Math.max(1, frames - 1);
    const step = s.step === null ? spread : -s.step / 1000;
    const middle = frames === 1 && s.focusFromMm === null;
    const inverse = middle ? (1 / nearMm + 1 / farMm) / 2 : 1 / (s.focusFromMm ?? nearMm) + k * step;
    const focusMm = inverse > 0 ? 1 / inverse : Infinity;
    const hand = holdCamera(random, s.support, 1 / focalPx(focusMm), k);
    const view = flatView(
      width,
      height,
      focalPx(focusMm),
      hand.yaw,
      hand.pitch,
      hand.roll,
      hand.drift,
      lens.distortion,
    );
    const exposure = expose(assignment, random, k, lens, sensor, k * s.intervalS, 0.25, 0);
    return { ...exposure, view, focusMm, place: [0, k] };
  });
  const firstMm = Math.min(nearMm, s.focusFromMm ?? nearMm);
  const canvas = cropped(flatView(width, height, focalPx(firstMm), 0, 0, 0, [0, 0, 0], lens.distortion), s.support);
  const tangentPerUnit = width / focalPx(nearMm);
  return {
    assignment,
    kind: 'focus-stack',
    stage: makeStage(world, tangentPerUnit, canvas),
    shots,
    frames: eachShot(shots),
    canvas,
    referenceS: 0,
  };
}

function flatView(
  width: number,
  height: number,
  focalPx: number,
  yaw: number,
  pitch: number,
  roll: number,
  positionMm: Vec3,
  distortion: number,
): View {
  return {
    projection: 'flat',
    width,
    height,
    focalPx,
    principal: [width / 2, height / 2],
    rotation: rotationOf(yaw, pitch, roll),
    positionMm,
    distortion,
    halfDiagonalPx: Math.hypot(width, height) / 2,
  };
}

/** The merge's geometry without the rim that the frames' drift costs. */
function cropped(view: View, support: 'tripod' | 'hand'): View {
  const rim = 4 * Math.ceil(support === 'hand' ? 4 + view.width * 0.005 : 3);
  const [x, y] = view.principal;
  return { ...view, width: view.width - 2 * rim, height: view.height - 2 * rim, principal: [x - rim, y - rim] };
}

/** Exposure time of the outdoor sets at the nominal exposure. */
const OUTDOOR_S = 1 / 160;
const FOCUSED_MM = 14000;

function planPanorama(assignment: Assignment, random: Random): SetPlan {
  const { subject, seed, width, height, frames, settings: s } = assignment;
  const world = cove(seed, { wind: s.wind });
  const lens = makeLens(assignment, LONG_SIDE_MM / Math.max(width, height));
  const sensor = makeSensor(assignment);
  const focalPx = imageDistanceMm(lens, FOCUSED_MM) / lens.pixelPitchMm;
  const overlap = s.step ?? 0.33;
  const across = 2 * Math.atan(width / 2 / focalPx);
  const tall = 2 * Math.atan(height / 2 / focalPx);
  const vertical = subject !== 'cove';
  const columns = vertical ? 1 : frames;
  const rows = vertical ? 2 : s.rows;
  const turn = across * (1 - overlap);
  const tilt = tall * (1 - overlap);
  const aim = vertical ? Math.atan(coveLandmarks(seed).towerX) : 0;
  const middleRow = vertical ? 0.14 : 0.1;
  const order: (readonly [row: number, column: number, ev: number])[] = [];
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      // Rows go from the bottom up; the nested pair's upper frame is exposed for the ground and for the sky.
      order.push([row, column, 0]);
      if (subject === 'tower-nested' && row === 1) order.push([row, column, -1.6]);
    }
  }
  const shots = order.map(([row, column, ev], k): PlannedShot => {
    const hand = holdCamera(random, s.support, 1 / focalPx, k);
    const yaw = aim + (column - (columns - 1) / 2) * turn + hand.yaw;
    const pitch = middleRow + (row - (rows - 1) / 2) * tilt + hand.pitch;
    const pupil = pupilPosition(rotationOf(yaw, pitch, 0), s.pupilOffsetMm);
    const at: Vec3 = [pupil[0] + hand.drift[0], pupil[1] + hand.drift[1], pupil[2] + hand.drift[2]];
    const view = flatView(width, height, focalPx, yaw, pitch, hand.roll, at, lens.distortion);
    const exposure = expose(assignment, random, k, lens, sensor, k * s.intervalS, OUTDOOR_S * 2 ** ev, ev);
    return { ...exposure, view, focusMm: FOCUSED_MM, place: [row, column] };
  });
  const canvas = vertical
    ? verticalCanvas(width, focalPx, aim, middleRow, tall + (rows - 1) * tilt)
    : cylinderCanvas(focalPx, across + (columns - 1) * turn, height, middleRow, (rows - 1) * tilt);
  return {
    assignment,
    kind: 'panorama',
    stage: makeStage(world, 1, canvas),
    shots,
    frames: subject === 'tower-nested' ? NESTED : eachShot(shots),
    canvas,
    referenceS: shots[shots.length >> 1]!.startS,
  };
}

/** A cylinder cut to what the frames cover. */
function cylinderCanvas(focalPx: number, angle: number, height: number, pitch: number, more: number): View {
  const width = Math.floor((focalPx * angle * 0.97) / 4) * 4;
  // Frames bulge: their corners reach less high on the cylinder than their middles.
  const tall = Math.floor((height * 0.86 + focalPx * Math.tan(more)) / 4) * 4;
  return {
    projection: 'cylinder',
    width,
    height: tall,
    focalPx,
    principal: [width / 2, tall / 2 + focalPx * Math.tan(pitch)],
    rotation: rotationOf(0, 0, 0),
    positionMm: [0, 0, 0],
    distortion: 0,
    halfDiagonalPx: focalPx,
  };
}

/** A flat picture of the vertical pair, with level camera so that the tower stands upright. */
function verticalCanvas(width: number, focalPx: number, yaw: number, pitch: number, angle: number): View {
  const up = focalPx * Math.tan(pitch + angle * 0.47);
  const down = focalPx * Math.tan(angle * 0.47 - pitch);
  const height = Math.floor((up + down) / 4) * 4;
  const w = Math.floor((width * 0.94) / 4) * 4;
  return {
    projection: 'flat',
    width: w,
    height,
    focalPx,
    principal: [w / 2, up],
    rotation: rotationOf(yaw, 0, 0),
    positionMm: [0, 0, 0],
    distortion: 0,
    halfDiagonalPx: focalPx,
  };
}

/** Exposure time indoors at the nominal exposure. */
const INDOOR_S = 1 / 8;

function planBracket(assignment: Assignment, random: Random): SetPlan {
  const { seed, width, height, frames, settings: s } = assignment;
  const world = lampRoom(seed, { wind: s.wind });
  const lens = makeLens(assignment, LONG_SIDE_MM / Math.max(width, height));
  const sensor = makeSensor(assignment);
  const focusMm = 4000;
  const focalPx = imageDistanceMm(lens, focusMm) / lens.pixelPitchMm;
  const step = s.step ?? 6 / Math.max(1, frames - 1);
  let clock = 0;
  const shots = Array.from({ length: frames }, (_, k): PlannedShot => {
    const ev = (k - (frames - 1) / 2) * step;
    const hand = holdCamera(random, s.support, 0.4 / focalPx, k);
    const view = flatView(width, height, focalPx, hand.yaw, hand.pitch, hand.roll, hand.drift, lens.distortion);
    const exposureS = INDOOR_S * 2 ** ev;
    const shot = { ...expose(assignment, random, k, lens, sensor, clock, exposureS, ev), view, focusMm };
    clock += s.intervalS + exposureS;
    return { ...shot, place: [0, k] };
  });
  const canvas = cropped(flatView(width, height, focalPx, 0, 0, 0, [0, 0, 0], lens.distortion), s.support);
  return {
    assignment,
    kind: 'bracket',
    stage: makeStage(world, 1, canvas),
    shots,
    frames: eachShot(shots),
    canvas,
    referenceS: shots[shots.length >> 1]!.startS,
  };
}

/** Radius in px of the blur disc of a point at depthMm in a shot. */
export function blurRadiusPx(shot: Pick<Shot, 'lens' | 'focusMm'>, depthMm: number): number {
  return shot.focusMm === null ? 0 : blurDiameterPx(shot.lens, depthMm, shot.focusMm) / 2;
}
