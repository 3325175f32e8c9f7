// The HTTP interface of practice.
import { Router } from 'express';
import { answerSchema, exerciseOrderSchema, pairAnswerSchema } from '@blendrak/contract';
import type { Services } from '../services/context';
import {
  answerExercise,
  answerPairs,
  beginExercise,
  openExercise,
  openPractice,
  orderExercise,
  removeExercise,
  requireExercise,
} from '../services/practise/exercises';
import { pairPicture, pairsOf } from '../services/practise/pairs';
import { scoreOwnRepair } from '../services/practise/scoreOwnRepair';
import type { WorkQueue } from '../services/workQueue';

export function practiceRoutes(services: Services, queue: WorkQueue): Router {
  const router = Router();
  router.get('/practice', (_request, response) => {
    response.json(openPractice(services));
  });
  router.post('/practice/exercises', (request, response) => {
    const exercise = orderExercise(services, exerciseOrderSchema.parse(request.body));
    queue.wake();
    response.status(201).json(exercise);
  });
  router.get('/practice/exercises/:id', (request, response) => {
    response.json(openExercise(services, request.params.id));
  });
  router.post('/practice/exercises/:id/begin', (request, response) => {
    beginExercise(services, request.params.id);
    queue.wake();
    response.status(204).end();
  });
  router.post('/practice/exercises/:id/answer', (request, response) => {
    response.status(201).json(answerExercise(services, request.params.id, answerSchema.parse(request.body)));
  });
  router.get('/practice/exercises/:id/pairs', (request, response) => {
    requireExercise(services, request.params.id);
    response.json(pairsOf(services, request.params.id).map(({ region: { width, height } }) => ({ width, height })));
  });
  router.get('/practice/exercises/:id/pairs/:pair/:side.png', async (request, response) => {
    const { id, pair, side } = request.params;
    requireExercise(services, id);
    response.type('png').send(await pairPicture(services, id, Number(pair), Number(side)));
  });
  router.post('/practice/exercises/:id/pairs', (request, response) => {
    response.status(201).json(answerPairs(services, request.params.id, pairAnswerSchema.parse(request.body)));
  });
  router.post('/practice/exercises/:id/repair', async (request, response) => {
    response.json(await scoreOwnRepair(services, request.params.id));
  });
  router.delete('/practice/exercises/:id', async (request, response) => {
    requireExercise(services, request.params.id);
    await queue.cancelJob(request.params.id);
    removeExercise(services, request.params.id);
    response.status(204).end();
  });
  return router;
}
