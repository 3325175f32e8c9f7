// Planning's part of the server.
import {
  jobSummarySchema,
  kitSchema,
  measuredStepSchema,
  planSchema,
  testFrameSchema,
  type JobSummary,
  type Kit,
  type MeasuredStep,
  type Plan,
  type PlanWrite,
  type ShootPlan,
  type TestFrame,
} from '@blendrak/contract';
import { ask, askFor, json } from '../../shared/api';

export const planApi = {
  plan: (id: string): Promise<Plan> => askFor(planSchema, `/api/plans/${id}`),
  addPlan: (plan: PlanWrite): Promise<Plan> => askFor(planSchema, '/api/plans', json('POST', plan)),
  changePlan: (id: string, plan: PlanWrite): Promise<Plan> => askFor(planSchema, `/api/plans/${id}`, json('PUT', plan)),
  removePlan: (id: string) => ask(`/api/plans/${id}`, { method: 'DELETE' }),
  shoot: (id: string, order: ShootPlan): Promise<JobSummary> =>
    askFor(jobSummarySchema, `/api/plans/${id}/shoot`, json('POST', order)),
  kit: (): Promise<Kit> => askFor(kitSchema, '/api/kit'),
  changeKit: (kit: Kit): Promise<Kit> => askFor(kitSchema, '/api/kit', json('PUT', kit)),
  testFrame: (file: File): Promise<TestFrame> => {
    const form = new FormData();
    form.append('file', file);
    return askFor(testFrameSchema, '/api/test-frame', { method: 'POST', body: form });
  },
  measureStep: (jobId: string, cocMm: number, firstFocusMm: number | null): Promise<MeasuredStep> =>
    askFor(
      measuredStepSchema,
      `/api/jobs/${jobId}/focus-step?cocMm=${cocMm}${firstFocusMm === null ? '' : `&firstFocusMm=${firstFocusMm}`}`,
    ),
};

/** Address of a plan's card as PDF. */
export function cardPdfUrl(id: string): string {
  return `/api/plans/${id}/card.pdf`;
}
