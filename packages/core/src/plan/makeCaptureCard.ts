// The card for the field: what to set, which frames to shoot in which order, what to watch.
import { CAUTIONS, LOCAL_RULES, type CautionId } from './cautions';
import type { FocusRequest } from './focusRequest';
import type { PanoramaRequest } from './panoramaRequest';
import { planBracket, type BracketExposure, type BracketRequest } from './planBracket';
import { planFocusStack } from './planFocusStack';
import { planPanorama } from './planPanorama';
import { hasErrors, type FieldProblem } from './problem';
import { formatBytes, formatDuration, formatFNumber, formatShutter, readableLength } from './quantities';
import { chooseStep, type StepScale } from './stepScale';

/** A plan as it is saved: what was asked; the answer follows from it. */
export type PlanSheet = {
  readonly notes: string;
  readonly cautions: readonly CautionId[];
} & (
  | { readonly kind: 'focus-stack'; readonly request: FocusRequest; readonly stepScale: readonly StepScale[] }
  | { readonly kind: 'panorama'; readonly request: PanoramaRequest }
  | { readonly kind: 'bracket'; readonly request: BracketRequest }
);

export interface CaptureCard {
  readonly title: string;
  readonly kind: string;
  /** Large figures at the head of the card. */
  readonly settings: readonly { readonly label: string; readonly value: string }[];
  /** In shooting order, separators at both ends. */
  readonly frames: readonly { readonly name: string; readonly detail: string }[];
  readonly watch: readonly string[];
  readonly cautions: readonly { readonly title: string; readonly words: string }[];
  readonly rules: string;
  readonly notes: string;
}

const SEPARATOR = { name: 'Hand', detail: 'a frame of your hand: the set is marked' };
const FIXED = 'Manual exposure, fixed white balance, lowest ISO: the same for every frame.';

/**
 * Makes the capture card of a plan.
 * @returns the card; or the problems that keep the plan from being computed
 */
export function makeCaptureCard(
  name: string,
  sheet: PlanSheet,
):
  | { readonly card: CaptureCard; readonly problems: null }
  | { readonly card: null; readonly problems: readonly FieldProblem[] } {
  const body = bodyOf(sheet);
  if ('problems' in body) return { card: null, problems: body.problems };
  const cautions = sheet.cautions.map((id) => ({ title: CAUTIONS[id][0], words: CAUTIONS[id][1] }));
  return {
    problems: null,
    card: {
      title: name,
      ...body,
      frames: [SEPARATOR, ...body.frames, SEPARATOR],
      cautions,
      rules: LOCAL_RULES,
      notes: sheet.notes,
    },
  };
}

type Body = Pick<CaptureCard, 'kind' | 'settings' | 'frames' | 'watch'>;
type Failed = { readonly problems: readonly FieldProblem[] };

function bodyOf(sheet: PlanSheet): Body | Failed {
  if (sheet.kind === 'focus-stack') return focusBody(sheet.request, sheet.stepScale);
  return sheet.kind === 'panorama' ? panoramaBody(sheet.request) : bracketBody(sheet.request);
}

function focusBody(request: FocusRequest, stepScale: readonly StepScale[]): Body | Failed {
  const { plan, problems } = planFocusStack(request);
  if (!plan || hasErrors(problems)) return { problems };
  const rail = request.drive === 'rail';
  const nearFirst = request.order === 'near-to-far';
  const slices = nearFirst ? plan.slices : [...plan.slices].reverse();
  const start = slices[0]!.focusMm;
  const step = rail ? null : chooseStep(stepScale, request.overlap);
  return {
    kind: rail ? 'Focus stack on a rail' : 'Focus stack',
    settings: [
      ['Frames', String(slices.length)],
      ['Aperture', formatFNumber(request.fNumber)],
      ['Shutter', formatShutter(request.exposureS)],
      ['Lens', `${request.lens.focalLengthMm} mm`],
      rail
        ? ['Step', cardLength(plan.rail!.stepMm)]
        : ['Focus', `${cardLength(plan.slices[0]!.focusMm)} to ${cardLength(plan.slices.at(-1)!.focusMm)}`],
      ...(step ? ([['Step setting', `${step.setting} (${percent(step.overlap)} overlap)`]] as const) : []),
      ['Order', nearFirst ? 'near to far' : 'far to near'],
      ['Frame wider by', percent(plan.breathing.margin)],
      ['Settle', formatDuration(request.settleS)],
      ['Time', formatDuration(plan.timeS)],
      ['Card space', formatBytes(plan.bytes.raw)],
    ].map(pair),
    frames: slices.map(({ focusMm, nearMm, farMm }, k) => ({
      name: String(k + 1),
      detail: rail
        ? `rail at ${cardLength(Math.abs(focusMm - start))}`
        : `focus ${cardLength(focusMm)}, sharp ${cardLength(nearMm)} to ${cardLength(farMm)}`,
    })),
    watch: [
      FIXED,
      'Lens on manual focus, stabiliser off on a tripod.',
      rail
        ? 'Let the rail come to rest before each frame.'
        : 'Start in front of the nearest point: a missing slice cannot be repaired.',
      ...warnings(problems),
    ],
  };
}

function panoramaBody(request: PanoramaRequest): Body | Failed {
  const { plan, problems } = planPanorama(request);
  if (!plan || hasErrors(problems)) return { problems };
  const each = request.exposuresEach;
  return {
    kind: each > 1 ? 'Panorama of brackets' : 'Panorama',
    settings: [
      ['Frames', each > 1 ? `${plan.heads.length} × ${each} exposures` : String(plan.frames)],
      ['Rows × columns', `${plan.rows} × ${plan.columns}`],
      ['Lens', `${Number(plan.focalLengthMm.toPrecision(3))} mm`],
      ['Hold', request.orientation],
      ['Turn', `${plan.turnDeg.toFixed(1)}°`],
      ...(plan.rows > 1 ? ([['Tilt', `${plan.tiltDeg.toFixed(1)}°`]] as const) : []),
      ['Overlap', percent(plan.trueOverlap[0])],
      ['Shutter', formatShutter(request.exposureS)],
      ['Pupil within', `${plan.allowedOffsetMm >= 500 ? 'any' : `${plan.allowedOffsetMm.toFixed(1)} mm`}`],
      ['Time', formatDuration(plan.timeS)],
      ['Card space', formatBytes(plan.bytes.raw)],
      ['Result', `${plan.canvas.width} × ${plan.canvas.height} px`],
    ].map(pair),
    frames: plan.heads.map(({ yawDeg, pitchDeg }, k) => ({
      name: String(k + 1),
      detail: `turn ${signed(yawDeg)}${plan.rows > 1 ? `, tilt ${signed(pitchDeg)}` : ''}${each > 1 ? `, ${each} exposures` : ''}`,
    })),
    watch: [
      FIXED,
      'Level the head; turn about the entrance pupil when near things are in frame.',
      'Focus once, then leave it. Shoot quickly when clouds, waves or people move.',
      ...warnings(problems),
    ],
  };
}

function bracketBody(request: BracketRequest): Body | Failed {
  const { plan, problems } = planBracket(request);
  if (!plan || hasErrors(problems)) return { problems };
  const many = request.directions > 1;
  return {
    kind: many ? 'Bracket at each direction' : 'Bracket',
    settings: [
      ['Frames', many ? `${request.directions} × ${plan.framesEach}` : String(plan.frames)],
      ['Step', `${request.stepEv} EV`],
      ['Middle', formatShutter(request.exposureS)],
      ['Aperture', formatFNumber(request.fNumber)],
      ['ISO', String(request.iso)],
      ['Holds', `${plan.heldEv.toFixed(1)} EV`],
      ['Time', formatDuration(plan.timeS)],
    ].map(pair),
    frames: plan.exposures.map((e, k) => ({ name: String(k + 1), detail: exposureWords(e) })),
    watch: [
      'Aperture, ISO, focus and white balance stay; only the time changes.',
      'Cable or delayed release; stabiliser off on a tripod.',
      ...(many ? ['Finish the bracket at one direction before you turn.'] : []),
      ...warnings(problems),
    ],
  };
}

function exposureWords({ ev, exposureS, what }: BracketExposure): string {
  return `${formatShutter(exposureS)} (${ev >= 0 ? '+' : '−'}${Math.abs(ev).toFixed(1)} EV)${what ? `, ${what}` : ''}`;
}

function warnings(problems: readonly FieldProblem[]): string[] {
  return problems.filter((p) => p.severity === 'warning').map((p) => p.message);
}

function pair(entry: readonly string[]): { label: string; value: string } {
  return { label: entry[0]!, value: entry[1]! };
}

/** Words and plain millimetres: cards are printed in a font of few signs, and read in the dark. */
function cardLength(mm: number): string {
  if (mm === Infinity) return 'infinity';
  return Math.abs(mm) < 0.1 ? `${Number(mm.toPrecision(3))} mm` : readableLength(mm, 4);
}

function percent(share: number): string {
  return `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
}

function signed(deg: number): string {
  const size = Math.abs(deg).toFixed(1);
  return Number(size) === 0 ? '0°' : `${deg > 0 ? '+' : '−'}${size}°`;
}
