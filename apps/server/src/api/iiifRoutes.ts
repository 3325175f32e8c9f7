// Tiles over HTTP.
import { Router } from 'express';
import { z } from 'zod';
import type { Services } from '../services/context';
import { openTilePicture } from '../services/tilePictures';
import { encodeTile, infoDocument, parseTileRequest } from '../tiles';

export function iiifRoutes(services: Services): Router {
  const router = Router();
  router.get('/:id/info.json', (request, response) => {
    const { width, height } = openTilePicture(services, request.params.id);
    const id = `${request.protocol}://${request.get('host') ?? 'localhost'}/iiif/${request.params.id}`;
    response.type('application/ld+json').setHeader('Access-Control-Allow-Origin', '*');
    response.send(JSON.stringify(infoDocument(id, width, height)));
  });
  router.get('/:id/:region/:size/:rotation/:file', async (request, response) => {
    const { id, ...parts } = request.params;
    const version = z.string().optional().parse(request.query['v']);
    const picture = openTilePicture(services, id, version);
    const tile = parseTileRequest(parts, picture.width, picture.height);
    const data = await encodeTile(picture.render(tile), picture.icc, tile.format);
    // A client that names the state it wants may keep the tile for good.
    response.setHeader('Cache-Control', version === undefined ? 'no-cache' : 'private, max-age=31536000, immutable');
    response.setHeader('Access-Control-Allow-Origin', '*');
    response.type(tile.format).send(data);
  });
  return router;
}
