// What tiles can be asked of: pictures, frames in merge geometry, merges as they came and as repaired.
import { existsSync } from 'node:fs';
import type { SavedStroke } from '@blendrak/contract';
import { RequestError } from '../shared/requestError';
import { renderFrameTile, renderPictureTile, renderRepairedTile, type TilePicture } from '../tiles';
import type { Services } from './context';
import { iccPath } from './exportService';
import { openMerge } from './mergeService';

/**
 * Finds what an identifier names: `p-ID` a picture, `m-ID` a merge as it came, `r-ID` a merge as repaired,
 * `f-ID-K` frame K in the geometry and tone of merge ID.
 * @param version for a merge as repaired: the last stroke to be seen, "0" for none; all strokes when omitted
 * @throws RequestError 404, also for a stroke that is not in force (any more): what is asked for cannot be shown
 */
export function openTilePicture(services: Services, id: string, version?: string): TilePicture {
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
  if (kind !== 'f') {
    const strokes = kind === 'r' && version !== undefined ? strokesUpTo(scene.strokes, version) : scene.strokes;
    return { ...size, render: (request) => renderRepairedTile({ ...scene, strokes }, request) };
  }
  const frame = scene.frames[Number(index)];
  if (!frame) throw new RequestError(404, `This merge has frames 0 to ${scene.frames.length - 1}, not ${index}.`);
  return { ...size, render: (request) => renderFrameTile(frame, request) };
}

function strokesUpTo(strokes: readonly SavedStroke[], version: string): readonly SavedStroke[] {
  if (version === '0') return [];
  const last = strokes.findIndex((s) => s.id === version);
  if (last < 0) throw new RequestError(404, `v: the stroke ${version} is not in force; a stroke of the merge or 0 is.`);
  return strokes.slice(0, last + 1);
}
