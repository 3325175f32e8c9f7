// What tiles can be asked of: pictures, frames in merge geometry, merges as they came and as repaired.
import { existsSync, statSync } from 'node:fs';
import type { InspectionScene, TileSource } from '../../jobs';
import { RequestError } from '../../shared/requestError';
import { pictureInfo } from '../../storage';
import type { TileRequest } from '../../tiles';
import type { Services } from '../context';
import { iccPath } from '../deliver/exportService';
import { strokesReaching, type PlacedStroke } from './merges';

/** A picture that tiles can be asked of. */
export interface TilePicture {
  readonly width: number;
  readonly height: number;
  /** Path of its profile; null for sRGB. */
  readonly icc: string | null;
  /** What a tile of it shows. */
  source(request: TileRequest): TileSource;
}

/** Resampling of a reduced tile reads so many of its px beyond it. */
const MARGIN_TILE_PX = 4;

/**
 * Finds what an identifier names: `p-ID` a picture, `m-ID` a merge as it came, `r-ID` a merge as repaired,
 * `f-ID-K` frame K in the geometry and tone of merge ID.
 * @param version for a merge as repaired: the last stroke to be seen, "0" for none; all strokes when omitted
 * @throws RequestError 404, also for a stroke that is not in force (any more): what is asked for cannot be shown
 */
export function openTilePicture(services: Services, id: string, version?: string): TilePicture {
  const match = /^(p|m|r|f)-([A-Za-z0-9]+)(?:-(\d+))?$/.exec(id);
  if (!match)
    throw new RequestError(404, `There is no picture ${id}. Accepted: p-ID, m-ID, r-ID, or f-ID-K for frame K.`);
  const [, kind, key, index] = match;
  if (kind === 'p') return storedPicture(services, key!);
  const { body, scene } = kind === 'r' ? services.merges.painted(key!) : services.merges.open(key!);
  const icc = iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId);
  const size = { width: body.width, height: body.height, icc };
  if (kind !== 'f') {
    const strokes = scene.strokes as readonly PlacedStroke[];
    const shown = kind === 'r' && version !== undefined ? strokesUpTo(strokes, version) : strokes;
    return { ...size, source: (request) => ({ kind: 'repaired', scene: sceneOf(scene, shown, request) }) };
  }
  const frame = scene.frames[Number(index)];
  if (!frame) throw new RequestError(404, `This merge has frames 0 to ${scene.frames.length - 1}, not ${index}.`);
  return { ...size, source: () => ({ kind: 'frame', frame }) };
}

function storedPicture({ storage }: Services, id: string): TilePicture {
  const { folder, pictures, merges } = storage;
  const row = pictures.find(id);
  const info = row ? pictureInfo(row) : null;
  const tiles = folder.tiles(id);
  if (!info || !statSync(tiles, { throwIfNoEntry: false })) {
    const why = row ? 'has not been read (yet)' : merges.find(id) ? 'is a merge: ask for m-ID or r-ID' : 'is not there';
    throw new RequestError(404, `The picture ${id} ${why}.`);
  }
  const icc = folder.icc(id);
  const { width, height } = info;
  return { width, height, icc: existsSync(icc) ? icc : null, source: () => ({ kind: 'picture', tiles }) };
}

function strokesUpTo(strokes: readonly PlacedStroke[], version: string): readonly PlacedStroke[] {
  if (version === '0') return [];
  const last = strokes.findIndex((s) => s.id === version);
  if (last < 0) throw new RequestError(404, `v: the stroke ${version} is not in force; a stroke of the merge or 0 is.`);
  return strokes.slice(0, last + 1);
}

/** A merge with the strokes that reach a tile, and the frames that these show: what goes to another thread is small. */
function sceneOf(scene: InspectionScene, strokes: readonly PlacedStroke[], tile: TileRequest): InspectionScene {
  const margin = (MARGIN_TILE_PX * tile.region.width) / tile.width;
  const reaching = strokesReaching(strokes, tile.region, margin);
  const used = [...new Set(reaching.map((s) => s.frame))];
  return {
    merge: scene.merge,
    frames: used.map((k) => scene.frames[k]!),
    strokes: reaching.map(({ points, sizePx, hardness, strength, frame }) => ({
      points,
      sizePx,
      hardness,
      strength,
      frame: used.indexOf(frame),
    })),
  };
}
