// From a scene's range of light to the exposures of a bracket.
import { checkPace } from './checkCommon';
import { gatherProblems, hasErrors, type FieldProblem, type ProblemList } from './problem';
import { LIGHT_DRIFT_LIMIT_EV, lightDriftEv, seriesTimeS, type Pace } from './seriesTime';

export interface BracketRequest extends Pace {
  /** From the deepest shadow wanted to the brightest light. */
  readonly sceneEv: number;
  /** What one frame holds with acceptable noise. */
  readonly usableEv: number;
  readonly stepEv: number;
  /** The middle exposure: `exposureS`, at this aperture and sensitivity. */
  readonly fNumber: number;
  readonly iso: number;
  /** Frames wanted; null lets the range decide. */
  readonly frames: number | null;
  /** Further times for what moves: water at one time, leaves at another. */
  readonly extras: readonly { readonly what: string; readonly exposureS: number }[];
  /** Directions of a panorama at each of which the bracket is shot. */
  readonly directions: number;
  readonly lightDriftEvPerMin: number;
}

export interface BracketExposure {
  /** Against the middle exposure. */
  readonly ev: number;
  readonly exposureS: number;
  /** What it is for, when it is not one of the series. */
  readonly what: string | null;
}

export interface BracketPlan {
  /** Dark to bright, then the extras. */
  readonly exposures: readonly BracketExposure[];
  /** Range that the series holds. */
  readonly heldEv: number;
  readonly framesEach: number;
  readonly frames: number;
  readonly timeS: number;
  readonly driftEv: number;
}

export interface BracketAnswer {
  readonly problems: readonly FieldProblem[];
  readonly plan: BracketPlan | null;
}

const MOST_EXPOSURES = 25;

/** Frames of a bracket: ⌈(scene EV − usable sensor EV)/step⌉ + 1, one when a frame holds all. */
export function bracketFrames(sceneEv: number, usableEv: number, stepEv: number): number {
  return sceneEv <= usableEv ? 1 : Math.ceil((sceneEv - usableEv) / stepEv - 1e-9) + 1;
}

/** Plans a bracket; never throws for what a person can type: problems name the field. */
export function planBracket(request: BracketRequest): BracketAnswer {
  const list = gatherProblems();
  check(list, request);
  if (hasErrors(list.problems)) return { problems: list.problems, plan: null };
  const needed = bracketFrames(request.sceneEv, request.usableEv, request.stepEv);
  const count = request.frames ?? needed;
  if (count > MOST_EXPOSURES)
    list.error(
      'stepEv',
      `This takes ${count} exposures: up to ${MOST_EXPOSURES} are accepted. A longer step needs fewer.`,
    );
  const series = Array.from({ length: count }, (_, k): BracketExposure => {
    const ev = (k - (count - 1) / 2) * request.stepEv;
    return { ev, exposureS: request.exposureS * 2 ** ev, what: null };
  });
  const times = series.map((e) => e.exposureS);
  if (Math.max(...times) > 3600 || Math.min(...times) < 1 / 32_000)
    list.error(
      'exposureS',
      `The series runs from ${Math.min(...times).toPrecision(3)} s to ${Math.max(...times).toPrecision(3)} s. 1/32000 s to one hour is accepted: change the middle exposure, ISO or aperture.`,
    );
  if (hasErrors(list.problems)) return { problems: list.problems, plan: null };
  const extras = request.extras.map(({ what, exposureS }) => ({
    ev: Math.log2(exposureS / request.exposureS),
    exposureS,
    what,
  }));
  const exposures = [...series, ...extras];
  const waits = seriesTimeS(exposures.length, { ...request, exposureS: 0, bufferS: 0 });
  const onceS = exposures.reduce((s, e) => s + e.exposureS, 0) + waits;
  const timeS = request.directions * onceS + request.bufferS;
  const plan: BracketPlan = {
    exposures,
    heldEv: request.usableEv + (count - 1) * request.stepEv,
    framesEach: exposures.length,
    frames: exposures.length * request.directions,
    timeS,
    driftEv: Math.abs(lightDriftEv(request.lightDriftEvPerMin, timeS)),
  };
  if (plan.heldEv < request.sceneEv - 1e-9)
    list.warn(
      'frames',
      `${count} ${count === 1 ? 'frame holds' : 'frames hold'} ${plan.heldEv.toFixed(1)} EV of ${request.sceneEv} EV: ${needed} would hold all.`,
    );
  if (plan.driftEv > LIGHT_DRIFT_LIMIT_EV)
    list.warn(
      'lightDriftEvPerMin',
      `The light changes by ${plan.driftEv.toFixed(2)} EV meanwhile: more than 0.1 EV shows as a step in tone.`,
    );
  return { problems: list.problems, plan };
}

function check(list: ProblemList, request: BracketRequest): void {
  list.range('sceneEv', 'range of the scene', request.sceneEv, 0.1, 40, 'EV');
  list.range('usableEv', 'usable range of the sensor', request.usableEv, 1, 20, 'EV');
  list.range('stepEv', 'step', request.stepEv, 0.1, 5, 'EV');
  list.range('fNumber', 'f-number', request.fNumber, 0.7, 64, '');
  list.range('iso', 'ISO', request.iso, 25, 204_800, '');
  if (request.frames !== null && !(Number.isInteger(request.frames) && request.frames >= 1))
    list.error('frames', `frames: ${request.frames}. A whole number from 1 to ${MOST_EXPOSURES} is accepted.`);
  if (!(Number.isInteger(request.directions) && request.directions >= 1 && request.directions <= 500))
    list.error('directions', `directions: ${request.directions}. A whole number from 1 to 500 is accepted.`);
  request.extras.forEach((extra, k) =>
    list.range(`extras.${k}.exposureS`, extra.what || 'further time', extra.exposureS, 1 / 32_000, 3600, 's'),
  );
  if (request.stepEv > request.usableEv)
    list.error(
      'stepEv',
      `step: ${request.stepEv} EV. Up to the usable range of ${request.usableEv} EV is accepted: tones between frames would be in neither.`,
    );
  checkPace(list, request);
}
