// An application over a data folder of its own, asked over HTTP: for tests of the interface.
import { join } from 'node:path';
import request from 'supertest';
import { makeApp } from '../api/makeApp';
import { localServices, temporaryFolder } from './inProcess';

/**
 * Starts it; `close` ends it and removes what it made.
 * @param place an empty folder, or one whose `data` are there, and how it is removed; default: a new one
 */
export function openHttp(place = temporaryFolder()) {
  const { path: folder, clean } = place;
  const services = localServices(join(folder, 'data'));
  const app = makeApp(services, null, null);
  return {
    ...{ folder, services, app, http: request(app.express) },
    close: async (): Promise<void> => {
      await app.queue.stop();
      await app.repair.settled();
      await Promise.all([services.pool.close(), services.quick.close()]);
      services.storage.close();
      clean();
    },
  };
}
