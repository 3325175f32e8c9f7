// The Express application over the services.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express } from 'express';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import type { Services } from '../services/context';
import { makeOperationsService, type OperationsService } from '../services/mend/operations';
import { makeWorkQueue, type WorkQueue } from '../services/workQueue';
import { guard, type GuardOptions } from './guard';
import { iiifRoutes } from './iiifRoutes';
import { BODY_LIMIT_BYTES, makeProblem, problemHandler, sendProblem } from './problems';
import { apiRoutes } from './routes';

export interface App {
  readonly express: Express;
  readonly queue: WorkQueue;
  readonly repair: OperationsService;
}

/**
 * Builds the application.
 * @param webFolder built web interface; left out in tests of the HTTP interface alone
 * @param guarding who may ask; null lets everyone, for tests of the interface behind it
 */
export function makeApp(services: Services, webFolder: string | null, guarding: GuardOptions | null): App {
  const repair = makeOperationsService(services);
  const queue = makeWorkQueue(services, repair);
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'img-src': ["'self'", 'data:', 'blob:'],
          'style-src': ["'self'", "'unsafe-inline'"],
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(pinoHttp({ logger: services.log, autoLogging: false }));
  if (guarding) app.use(...guard(guarding));
  app.use(express.json({ limit: BODY_LIMIT_BYTES }));
  app.use('/api', apiRoutes(services, queue, repair));
  app.use('/iiif', iiifRoutes(services));
  app.use(['/api', '/iiif'], (request, response) => {
    sendProblem(response, makeProblem(404, 'Not found', `There is nothing at ${request.originalUrl}.`));
  });
  if (webFolder && existsSync(join(webFolder, 'index.html'))) {
    app.use(express.static(webFolder, { index: false, maxAge: '1h' }));
    app.get('/{*path}', (_request, response) => {
      response.sendFile(join(webFolder, 'index.html'));
    });
  }
  app.use(problemHandler(services.log));
  return { express: app, queue, repair };
}
