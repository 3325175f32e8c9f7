// Tiles over HTTP.
import { Router } from 'express';
import { z } from 'zod';
import type { Services } from '../services/context';
import { openTilePicture } from '../services/look/tilePictures';
import { infoDocument, parseTileRequest } from '../tiles';
import { makeTileCache } from './tileCache';

const versionSchema = z.string().max(80).optional();

export function iiifRoutes(services: Services): Router {
  const router = Router();
  const cache = makeTileCache();
  router.get('/:id/info.json', (request, response) => {
    const { width, height } = openTilePicture(services, request.params.id);
    const id = `${request.protocol}://${request.get('host') ?? 'localhost'}/iiif/${request.params.id}`;
    response.type('application/ld+json').send(JSON.stringify(infoDocument(id, width, height)));
  });
  router.get('/:id/:region/:size/:rotation/:file', async (request, response) => {
    const { id, ...parts } = request.params;
    const version = versionSchema.parse(request.query['v']);
    const picture = openTilePicture(services, id, version);
    const tile = parseTileRequest(parts, picture.width, picture.height);
    const make = (): Promise<Uint8Array> =>
      services.quick.run('tile', { source: picture.source(tile), tile, icc: picture.icc });
    // A client that names the state it wants may keep the tile for good, and so may we.
    const key = `${version} ${request.path}`;
    const data = version === undefined ? await make() : await cache.get(key, make);
    response.setHeader('Cache-Control', version === undefined ? 'no-cache' : 'private, max-age=31536000, immutable');
    response.type(tile.format).send(Buffer.from(data.buffer, data.byteOffset, data.byteLength));
  });
  return router;
}
