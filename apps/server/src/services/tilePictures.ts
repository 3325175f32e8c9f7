// What tiles can be asked of: pictures, frames in merge geometry, merges as they came and as repaired.
import { existsSync } from 'node:fs';
import { RequestError } from '../shared/requestError';
import { renderFrameTile, renderPictureTile, renderRepairedTile, type TilePicture } from '../tiles';
import type { Services } from './context';
import { iccPath } from './exportService';
import { openMerge } from './mergeService';

/**
 * Finds what an identifier names: `p-ID` a picture, `m-ID` a merge as it came, `r-ID` a merge as repaired,
 * `f-ID-K` frame K in the geometry and tone of merge ID.
 * @throws RequestError 404
 */
export function openTilePicture(services: Services, id: string): TilePicture {
  const match = /^(p|m|r|f)-([A-Za-z0-9]+)(?:-(\d+))?$/.exec(id);
  if (!match) throw new RequestError(404, `There is no picture ${id}.`);
  const [, kind, key, index] = match;
  const { folder } = services.storage;
  if (kind === 'p') {
    const path = folder.tiles(key!);
    if (!existsSync(path)) throw new RequestError(404, `The picture ${key} is not there (yet).`);
    return renderPictureTile(path, existsSync(folder.icc(key!)) ? folder.icc(key!) : null);
  }
  const { body, scene } = openMerge(services, key!, kind === 'r');
  const icc = iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId);
  const size = { width: body.width, height: body.height, icc };
  if (kind !== 'f') return { ...size, render: (request) => renderRepairedTile(scene, request) };
  const frame = scene.frames[Number(index)];
  if (!frame) throw new RequestError(404, `This merge has frames 0 to ${scene.frames.length - 1}, not ${index}.`);
  return { ...size, render: (request) => renderFrameTile(frame, request) };
}
