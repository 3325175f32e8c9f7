// The HTTP interface of planning.
import { Router, type Request, type Response } from 'express';
import { z } from 'zod';
import { attachPlanSchema, kitSchema, planWriteSchema, shootPlanSchema } from '@blendrak/contract';
import { makeCaptureCard } from '@blendrak/core/plan';
import type { Services } from '../services/context';
import {
  addPlan,
  attachPlan,
  cardPdf,
  changeKit,
  changePlan,
  listPlans,
  measureStep,
  openKit,
  openPlan,
  planError,
  planOfJob,
  readTestFrame,
  removePlan,
  shootPlan,
} from '../services/plan';
import type { WorkQueue } from '../services/workQueue';
import { receiveFile, uploadOf } from './uploads';

const stepQuery = z.strictObject({
  cocMm: z.coerce.number().positive().max(1),
  firstFocusMm: z.coerce.number().positive().optional(),
});

export function planRoutes(services: Services, queue: WorkQueue): Router {
  const router = Router();
  router.get('/plans', (_request, response) => {
    response.json(listPlans(services));
  });
  router.post('/plans', (request, response) => {
    response.status(201).json(addPlan(services, planWriteSchema.parse(request.body)));
  });
  router.get('/plans/:id', (request, response) => {
    response.json(openPlan(services, request.params.id));
  });
  router.put('/plans/:id', (request, response) => {
    response.json(changePlan(services, request.params.id, planWriteSchema.parse(request.body)));
  });
  router.delete('/plans/:id', (request, response) => {
    removePlan(services, request.params.id);
    response.status(204).end();
  });
  router.get('/plans/:id/card.pdf', async (request, response) => {
    const { name, sheet } = openPlan(services, request.params.id);
    const { card, problems } = makeCaptureCard(name, sheet);
    if (!card) throw planError(problems);
    const pdf = await cardPdf(card);
    response
      .attachment(`${name.replace(/[^\p{L}\p{N} ._-]/gu, '_')}, capture card.pdf`)
      .type('pdf')
      .send(pdf);
  });
  router.post('/plans/:id/shoot', (request, response) => {
    const job = shootPlan(services, request.params.id, shootPlanSchema.parse(request.body));
    queue.wake();
    response.status(201).json(job);
  });
  jobRoutes(router, services);
  kitRoutes(router, services);
  return router;
}

function jobRoutes(router: Router, services: Services): void {
  router.get('/jobs/:id/plan', (request, response) => {
    response.json(planOfJob(services, request.params.id));
  });
  router.put('/jobs/:id/plan', (request, response) => {
    response.json(attachPlan(services, request.params.id, attachPlanSchema.parse(request.body).planId));
  });
  router.get('/jobs/:id/focus-step', (request, response) => {
    const { cocMm, firstFocusMm } = stepQuery.parse(request.query);
    response.json(measureStep(services, request.params.id, cocMm, firstFocusMm ?? null));
  });
}

function kitRoutes(router: Router, services: Services): void {
  const receive = receiveFile(services.storage, () => undefined);
  router.get('/kit', (_request, response) => {
    response.json(openKit(services));
  });
  router.put('/kit', (request, response) => {
    response.json(changeKit(services, kitSchema.parse(request.body)));
  });
  router.post('/test-frame', receive, async (request: Request, response: Response) => {
    const { temporaryPath, name } = uploadOf(request);
    response.json(await readTestFrame(services, { path: temporaryPath, name }));
  });
}
