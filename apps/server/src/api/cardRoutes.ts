// The HTTP interface of sorting.
import { Router, type Request, type Response } from 'express';
import { newCardSchema, sortingSchema } from '@blendrak/contract';
import type { Services } from '../services/context';
import {
  addCard,
  changeSorting,
  listCards,
  makeJobOfSet,
  openCard,
  removeCard,
  requireCard,
  startSort,
  takeCardFile,
  thumbOf,
} from '../services/sort';
import type { WorkQueue } from '../services/workQueue';
import { receiveFile, uploadOf } from './uploads';

export function cardRoutes(services: Services, queue: WorkQueue): Router {
  const router = Router();
  const receive = receiveFile(services.storage, (request) => requireCard(services, request.params['id'] as string));
  router.get('/cards', (_request, response) => {
    response.json(listCards(services));
  });
  router.post('/cards', async (request, response) => {
    const { name, folder } = newCardSchema.parse(request.body);
    const card = await addCard(services, name, folder);
    queue.wake();
    response.status(201).json(card);
  });
  router.get('/cards/:id', (request, response) => {
    response.json(openCard(services, request.params.id));
  });
  router.delete('/cards/:id', (request, response) => {
    removeCard(services, request.params.id);
    response.status(204).end();
  });
  router.post('/cards/:id/files', receive, async (request: Request, response: Response) => {
    const id = await takeCardFile(services, request.params['id'] as string, uploadOf(request));
    response.status(201).json({ id });
  });
  router.post('/cards/:id/sort', (request, response) => {
    const card = startSort(services, request.params.id);
    queue.wake();
    response.status(202).json(card);
  });
  router.put('/cards/:id/sorting', (request, response) => {
    response.json(changeSorting(services, request.params.id, sortingSchema.parse(request.body)));
  });
  router.post('/cards/:id/sets/:setId/job', (request, response) => {
    const job = makeJobOfSet(services, request.params.id, request.params.setId);
    queue.wake();
    response.status(201).json(job);
  });
  router.get('/card-files/:id/thumb.jpg', (request, response) => {
    response.sendFile(thumbOf(services, request.params.id), { maxAge: '1d' });
  });
  return router;
}
