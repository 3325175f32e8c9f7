// The HTTP interface of finishing: cut, waivers, signature, delivery.
import { Router } from 'express';
import { cropWishSchema, cutSchema, deliveryOrderSchema, signSchema, waiveSchema } from '@blendrak/contract';
import type { Services } from '../services/context';
import { deliveredFile, startDelivery } from '../services/deliver/deliverMerge';
import { reportPages } from '../services/deliver/reportPages';
import { reportPdf } from '../services/deliver/reportPdf';
import { downloadName } from '../services/deliver/exportService';
import { finishOf, openAgain, proposeCut, setCut, sign, waive } from '../services/finish/finishMerge';
import type { WorkQueue } from '../services/workQueue';

export function finishRoutes(services: Services, queue: WorkQueue): Router {
  const router = Router();
  router.get('/merges/:id/finish', async (request, response) => {
    response.json(await finishOf(services, request.params.id));
  });
  router.post('/merges/:id/cut/proposal', (request, response) => {
    response.json(proposeCut(services, request.params.id, cropWishSchema.parse(request.body)));
  });
  router.put('/merges/:id/cut', async (request, response) => {
    response.json(await setCut(services, request.params.id, cutSchema.parse(request.body)));
  });
  router.post('/merges/:id/waivers', async (request, response) => {
    response.status(201).json(await waive(services, request.params.id, waiveSchema.parse(request.body)));
  });
  router.put('/merges/:id/signature', async (request, response) => {
    response.json(await sign(services, request.params.id, signSchema.parse(request.body)));
  });
  router.delete('/merges/:id/signature', async (request, response) => {
    response.json(await openAgain(services, request.params.id));
  });
  router.get('/merges/:id/report.pdf', async (request, response) => {
    const { id } = request.params;
    const pdf = await reportPdf(await reportPages(services, id));
    response
      .attachment(downloadName(services, id, 'report', 'pdf'))
      .type('pdf')
      .send(pdf);
  });
  router.post('/merges/:id/delivery', (request, response) => {
    const work = startDelivery(services, request.params.id, deliveryOrderSchema.parse(request.body));
    queue.wake();
    response.status(202).location(`/api/deliveries/${work.id}`).json(work);
  });
  router.get('/deliveries/:id', (request, response, next) => {
    const { path, name } = deliveredFile(services, request.params.id);
    response.type('zip');
    response.download(path, name, (error) => {
      // Who goes away in the middle of it needs no answer.
      if (error && !response.headersSent) next(error);
    });
  });
  return router;
}
