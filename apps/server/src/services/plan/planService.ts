// Plans: kept, attached to jobs, sent to the simulated camera, compared with what came of them.
import type { JobPlan, JobSummary, Plan, PlanWrite, ShootOrder, ShootPlan } from '@blendrak/contract';
import {
  comparePlan,
  planBracket,
  planFocusStack,
  planPanorama,
  type FieldProblem,
  type PlanSheet,
} from '@blendrak/core/plan';
import { InputError } from '../../codecs';
import { RequestError } from '../../shared/requestError';
import { kindOfSubject, shootMenu } from '../camera';
import { newId, type Services } from '../context';
import { requireJob } from '../jobsService';
import { queueShoot } from '../shootService';
import { factsOf } from './setFacts';

export function listPlans({ storage }: Services): Plan[] {
  return storage.plans.list();
}

export function openPlan({ storage }: Services, id: string): Plan {
  const plan = storage.plans.find(id);
  if (!plan) throw new RequestError(404, `There is no plan ${id}.`);
  return plan;
}

export function addPlan(services: Services, { name, sheet }: PlanWrite): Plan {
  const id = newId();
  services.storage.plans.insert(id, name, sheet, new Date().toISOString());
  return openPlan(services, id);
}

export function changePlan(services: Services, id: string, { name, sheet }: PlanWrite): Plan {
  openPlan(services, id);
  services.storage.plans.change(id, name, sheet, new Date().toISOString());
  return openPlan(services, id);
}

/** Removes a plan; jobs keep the copy they were attached to. */
export function removePlan(services: Services, id: string): void {
  openPlan(services, id);
  services.storage.plans.remove(id);
}

/** The plan a job was shot by, and how it went. */
export function planOfJob(services: Services, jobId: string): JobPlan {
  requireJob(services.storage, jobId);
  const plan = services.storage.jobPlans.find(jobId);
  return { plan, comparison: plan ? comparePlan(plan.sheet, factsOf(services, jobId)) : [] };
}

/** Attaches a plan as it is now, or detaches. */
export function attachPlan(services: Services, jobId: string, planId: string | null): JobPlan {
  requireJob(services.storage, jobId);
  if (planId === null) services.storage.jobPlans.remove(jobId);
  else {
    const { name, sheet } = openPlan(services, planId);
    services.storage.jobPlans.put(jobId, planId, name, sheet);
  }
  services.events.publish({ topic: 'job', id: jobId });
  return planOfJob(services, jobId);
}

/**
 * Sends the simulated camera out with a plan; the job it fills carries the plan.
 * @throws InputError for a plan that cannot be computed, a subject of another kind, or settings no camera takes
 */
export function shootPlan(services: Services, planId: string, order: ShootPlan): JobSummary {
  const plan = openPlan(services, planId);
  const { storage } = services;
  const job = queueShoot(services, orderOf(plan, order));
  storage.jobPlans.put(job.id, plan.id, plan.name, plan.sheet);
  return job;
}

function orderOf({ name, sheet }: Plan, { subject, longSidePx, seed }: ShootPlan): ShootOrder {
  if (kindOfSubject(subject) !== sheet.kind)
    throw new InputError('subject', `${subject} is no ${sheet.kind}`, `a subject that suits a ${sheet.kind}`);
  const entry = shootMenu().find((e) => e.subject === subject)!;
  const base = {
    name,
    subject,
    seed,
    longSidePx,
    format: 'jpeg',
    bits: 8,
    separator: false,
    mergeElsewhere: false,
  } as const;
  const taken = cameraOf(sheet);
  const rows = subject === 'cove' ? taken.rows : 1;
  return { ...base, frames: taken.frames, settings: { ...entry.settings, ...taken.settings, rows } };
}

interface Taken {
  readonly frames: number;
  readonly rows: number;
  readonly settings: Partial<ShootOrder['settings']>;
}

/** What the camera is told of a plan; the interval is all the time from one frame to the next. */
function cameraOf(sheet: PlanSheet): Taken {
  const { request } = sheet;
  const common = {
    intervalS: request.exposureS + request.settleS + request.delayS,
    lightDriftEvPerMin: request.lightDriftEvPerMin,
  };
  if (sheet.kind === 'focus-stack') {
    const plan = computed(planFocusStack(sheet.request));
    if (sheet.request.drive === 'rail')
      throw new InputError('drive', 'a rail', 'a stack by focus: the simulated camera stands on a tripod');
    const inverse = plan.slices.map((s) => 1000 / s.focusMm);
    const step = inverse.length > 1 ? (inverse[0]! - inverse.at(-1)!) / (inverse.length - 1) : null;
    const { focalLengthMm } = sheet.request.lens;
    const focusFromMm = Number.isFinite(plan.slices[0]!.focusMm) ? plan.slices[0]!.focusMm : null;
    return {
      frames: plan.slices.length,
      rows: 1,
      settings: { ...common, focalLengthMm, fNumber: sheet.request.fNumber, step, focusFromMm },
    };
  }
  if (sheet.kind === 'panorama') {
    const plan = computed(planPanorama(sheet.request));
    const settings = {
      ...common,
      focalLengthMm: plan.focalLengthMm,
      step: plan.columns > 1 ? plan.trueOverlap[0] : sheet.request.overlap,
      pupilOffsetMm: sheet.request.pupilOffsetMm,
    };
    return { frames: plan.columns, rows: plan.rows, settings };
  }
  const plan = computed(planBracket(sheet.request));
  const series = plan.exposures.filter((e) => e.what === null);
  const { stepEv, fNumber, iso } = sheet.request;
  return { frames: series.length, rows: 1, settings: { ...common, fNumber, iso, step: stepEv } };
}

/** The refusal of a plan that cannot be computed: its first error. */
export function planError(problems: readonly FieldProblem[]): RequestError {
  const first = problems.find((p) => p.severity === 'error')!;
  return new RequestError(409, `The plan has an error. ${first.message}`);
}

function computed<T>({ plan, problems }: { readonly plan: T | null; readonly problems: readonly FieldProblem[] }): T {
  if (plan !== null) return plan;
  throw planError(problems);
}
