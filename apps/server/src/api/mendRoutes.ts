// The HTTP interface of repair: operations, what they paint with, and repairs that are proposed.
import { Router, type Request, type Response } from 'express';
import { z } from 'zod';
import {
  copyOrderSchema,
  fillOrderSchema,
  handOrderSchema,
  mendOrderSchema,
  namedChangeSchema,
  proposalChoiceSchema,
  snapOrderSchema,
  sourceOrderSchema,
} from '@blendrak/contract';
import { newId, type Services } from '../services/context';
import { operationsSince } from '../services/look/openMerge';
import { copyRecord } from '../services/mend/copyRecord';
import { fillFinding } from '../services/mend/fillFinding';
import { carryOutByHand } from '../services/mend/handOrders';
import { startMend } from '../services/mend/mendMerge';
import type { OperationsService } from '../services/mend/operations';
import { chooseProposals, listProposals } from '../services/mend/proposals';
import { snapToEdges } from '../services/mend/snapToEdges';
import { listSources, startSource } from '../services/mend/sources';
import { takeMask } from '../services/mend/takeMask';
import type { WorkQueue } from '../services/workQueue';
import { askerOf, changeIdOf, sinceOf } from './asking';
import { receiveFile, uploadOf } from './uploads';

/** Frame that a mask is for, by number. */
const donorSchema = z.coerce.number().int().min(0);

type MergeRequest = Request<{ id: string }>;
type OperationRequest = Request<{ id: string; operationId: string }>;

export function mendRoutes(services: Services, queue: WorkQueue, repair: OperationsService): Router {
  const router = Router();
  // A change answers with what changed since the revision that the page knows, not with all operations again.
  const answer = (request: MergeRequest, response: Response): void => {
    const { person } = askerOf(request);
    response.json(operationsSince(services, request.params.id, sinceOf(request), person));
  };
  const working = new Map<string, Promise<void>>();
  /** Has something worked out and done, once under its name: who asks again waits for the same, or is only answered. */
  const doOnce = async (
    request: MergeRequest,
    response: Response,
    work: (id: string) => Promise<void>,
  ): Promise<void> => {
    const id = changeIdOf(request) ?? newId();
    if (services.storage.operationChanges.find(id)?.mergeId !== request.params.id) {
      const begun = working.get(id) ?? work(id).finally(() => working.delete(id));
      working.set(id, begun);
      await begun;
    }
    answer(request, response.status(201));
  };
  router.get('/merges/:id/operations', answer);
  router.post('/merges/:id/changes', (request: MergeRequest, response) => {
    repair.change(request.params.id, namedChangeSchema.parse(request.body), askerOf(request));
    answer(request, response.status(201));
  });
  router.post('/merges/:id/fills', async (request: MergeRequest, response) => {
    const { findingId } = fillOrderSchema.parse(request.body);
    await doOnce(request, response, (id) =>
      fillFinding(services, repair, request.params.id, findingId, askerOf(request), id),
    );
  });
  router.post('/merges/:id/by-hand', async (request: MergeRequest, response) => {
    const order = handOrderSchema.parse(request.body);
    await doOnce(request, response, (id) =>
      carryOutByHand(services, repair, request.params.id, order, askerOf(request), id),
    );
  });
  router.post('/merges/:id/operations/:operationId/snap', async (request: OperationRequest, response) => {
    const { id: mergeId, operationId } = request.params;
    const { reachPx } = snapOrderSchema.parse(request.body);
    await doOnce(request, response, (id) =>
      snapToEdges(services, repair, mergeId, operationId, reachPx, askerOf(request), id),
    );
  });
  router.post('/merges/:id/copies', (request: MergeRequest, response) => {
    const order = copyOrderSchema.parse(request.body);
    response.status(201).json(copyRecord(services, repair, request.params.id, order, askerOf(request)));
  });
  const receive = receiveFile(services.storage, (request) => {
    services.merges.body(request.params['id'] as string);
    donorSchema.parse(request.query['donor']);
  });
  router.post('/merges/:id/masks', receive, async (request: MergeRequest, response: Response) => {
    const donor = donorSchema.parse(request.query['donor']);
    await doOnce(request, response, (id) =>
      takeMask(services, repair, request.params.id, donor, uploadOf(request), askerOf(request), id),
    );
  });
  router.post('/merges/:id/mend', (request, response) => {
    const work = startMend(services, request.params.id, mendOrderSchema.parse(request.body), askerOf(request));
    queue.wake();
    response.status(202).json(work);
  });
  router.get('/merges/:id/sources', (request, response) => {
    response.json(listSources(services, request.params.id));
  });
  router.post('/merges/:id/sources', (request, response) => {
    const work = startSource(services, request.params.id, sourceOrderSchema.parse(request.body));
    queue.wake();
    response.status(202).json(work);
  });
  router.get('/merges/:id/proposals', (request, response) => {
    response.json(listProposals(services, request.params.id));
  });
  router.post('/merges/:id/proposals', (request: MergeRequest, response) => {
    chooseProposals(services, repair, request.params.id, proposalChoiceSchema.parse(request.body), askerOf(request));
    answer(request, response.status(201));
  });
  return router;
}
