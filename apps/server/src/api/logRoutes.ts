// The HTTP interface of the log: the journal, what goes wrong, calibrations, lessons.
import { Router } from 'express';
import {
  journalQuerySchema,
  lessonChoiceSchema,
  logQuerySchema,
  newNoteSchema,
  takeCalibrationSchema,
  timeSpentSchema,
} from '@blendrak/contract';
import type { Services } from '../services/context';
import { requireJob } from '../services/jobsService';
import { journalCsv, note, searchJournal } from '../services/log/journal';
import { calibrationsOf, takeCalibration } from '../services/log/calibrations';
import { spendTime, timeLogOf } from '../services/log/timeSpent';
import { chooseLesson, lessonsOf, logOf } from '../services/log/logOf';

/** All of it, for other programs. */
const EVERYTHING = 10_000;

export function logRoutes(services: Services): Router {
  const router = Router();
  router.get('/journal', (request, response) => {
    response.json(searchJournal(services, journalQuerySchema.parse(request.query)));
  });
  router.get('/journal.json', (request, response) => {
    const query = journalQuerySchema.parse({ limit: EVERYTHING, ...request.query });
    response.attachment('journal.json').send(`${JSON.stringify(searchJournal(services, query), null, 1)}\n`);
  });
  router.get('/journal.csv', (request, response) => {
    const query = journalQuerySchema.parse({ limit: EVERYTHING, ...request.query });
    response
      .attachment('journal.csv')
      .type('csv')
      .send(journalCsv(searchJournal(services, query)));
  });
  router.post('/journal', (request, response) => {
    const { jobId, words } = newNoteSchema.parse(request.body);
    requireJob(services.storage, jobId);
    note(services, jobId, 'note', words);
    response.status(201).json(searchJournal(services, journalQuerySchema.parse({ jobId, limit: 1 }))[0]);
  });
  router.get('/log', (request, response) => {
    response.json(logOf(services, logQuerySchema.parse(request.query).by));
  });
  router.get('/log/time', (_request, response) => {
    response.json(timeLogOf(services));
  });
  router.post('/jobs/:id/time', (request, response) => {
    spendTime(services, request.params.id, timeSpentSchema.parse(request.body));
    response.status(204).end();
  });
  router.get('/log/lessons', (_request, response) => {
    response.json(lessonsOf(services));
  });
  router.put('/log/lessons/:id', (request, response) => {
    response.json(chooseLesson(services, request.params.id, lessonChoiceSchema.parse(request.body).state));
  });
  router.get('/log/calibrations', (_request, response) => {
    response.json(calibrationsOf(services));
  });
  router.post('/log/calibrations/taken', (request, response) => {
    response.json(takeCalibration(services, takeCalibrationSchema.parse(request.body)));
  });
  return router;
}
