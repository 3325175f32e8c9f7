// What tiles can be asked of: pictures, frames in merge geometry, merges as they came and as repaired.
import { existsSync, statSync } from 'node:fs';
import { CELL_PX } from '@blendrak/core/kernels';
import {
  operationsInTile,
  partsOf,
  placeOperation,
  tileState,
  UNTOUCHED,
  type OperationPart,
} from '@blendrak/core/repair';
import { donorsOf, type InspectionScene, type TileSource } from '../../jobs';
import { RequestError } from '../../shared/requestError';
import { pictureInfo } from '../../storage';
import type { TileRequest } from '../../tiles';
import type { Services } from '../context';
import { iccPath } from '../deliver/exportService';
import type { RepairState } from './merges';

/** Maps that come before them in their file: the closest frame and the one shown. */
const LABEL_MAPS = 2;

/** A picture that tiles can be asked of. */
export interface TilePicture {
  readonly width: number;
  readonly height: number;
  /** Path of its profile; null for sRGB. */
  readonly icc: string | null;
  /** What a tile of it shows. */
  source(request: TileRequest): TileSource;
}

/**
 * Finds what an identifier names: `p-ID` a picture, `m-ID` a merge as it came, `r-ID` a merge as repaired,
 * `f-ID-K` frame K, or what else is painted with by that number, in the geometry and tone of merge ID, `e-ID-NAME` a map of its evidence.
 * @param version for a merge as repaired: the name of the tile's state (`tileState`); as it is now when omitted
 * @throws RequestError 404; the source also for a state in which the tile is not and was not lately
 */
export function openTilePicture(services: Services, id: string, version?: string): TilePicture {
  const match = /^(p|m|r|f|e)-([A-Za-z0-9]+)(?:-(\d+|[a-z]+))?$/.exec(id);
  if (!match)
    throw new RequestError(
      404,
      `There is no picture ${id}. Accepted: p-ID, m-ID, r-ID, f-ID-K for frame K, or e-ID-NAME for a map.`,
    );
  const [, kind, key, index] = match;
  if (kind === 'p') return storedPicture(services, key!);
  if (kind === 'e') return evidenceMap(services, key!, index ?? '');
  const { body, scene } = services.merges.open(key!);
  const icc = iccPath(services, body.tilesId, body.frames[body.reference]!.pictureId);
  const size = { width: body.width, height: body.height, icc };
  if (kind === 'm') return { ...size, source: () => repaired(scene, []) };
  if (kind === 'r') {
    return {
      ...size,
      source(request) {
        const states = services.merges.recentStates(key!);
        const state =
          version === undefined
            ? states[0]!
            : namedState(states, () => proposedStates(services, key!), request, version);
        return repaired(scene, operationsInTile(state, request.region, request.width));
      },
    };
  }
  const donors = donorsOf(scene);
  const frame = donors[Number(index)];
  if (!frame) throw new RequestError(404, `This merge has frames 0 to ${donors.length - 1}, not ${index}.`);
  return { ...size, source: () => ({ kind: 'frame', frame }) };
}

function evidenceMap({ merges, storage }: Services, id: string, name: string): TilePicture {
  const { width, height, maps } = merges.body(id);
  const known = maps.findIndex((map) => map === name);
  if (known < 0) {
    const accepted = maps.length > 0 ? maps.join(', ') : 'none; a merge has them from when it is inspected anew';
    throw new RequestError(404, `This merge has no map "${name}". Accepted: ${accepted}.`);
  }
  const cells = { width: Math.floor(width / CELL_PX), height: Math.floor(height / CELL_PX) };
  const file = storage.folder.labels(id);
  return { width, height, icc: null, source: () => ({ kind: 'map', file, plane: LABEL_MAPS + known, ...cells }) };
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

/** The states in which the repair would be with one of the proposals kept. */
function proposedStates({ merges, storage }: Services, mergeId: string): RepairState[] {
  const [now] = merges.recentStates(mergeId);
  return storage.proposals
    .listByMerge(mergeId)
    .flatMap(({ id, operation }) => (operation ? [[...now!, placeOperation({ id, ...operation })]] : []));
}

/** The newest state in which a tile has a name; else one that is only proposed. */
function namedState(
  states: readonly RepairState[],
  proposed: () => readonly RepairState[],
  { region, width }: TileRequest,
  name: string,
): RepairState {
  if (name === UNTOUCHED) return [];
  const isNamed = (state: RepairState): boolean => tileState(state, region, width) === name;
  const found = states.find(isNamed) ?? proposed().find(isNamed);
  if (!found)
    throw new RequestError(404, `v: this part is not in the state ${name} (any more). Accepted: its state now, or 0.`);
  return found;
}

/** A merge with operations, and the frames that these show: what goes to another thread is small. */
function repaired(scene: InspectionScene, operations: RepairState): TileSource {
  const used = [...new Set(operations.flatMap(partsOf).flatMap(({ donor }) => (donor === null ? [] : [donor])))];
  const amongUsed = <P extends OperationPart>(part: P): P => ({
    ...part,
    donor: part.donor === null ? null : used.indexOf(part.donor),
  });
  const donors = donorsOf(scene);
  return {
    kind: 'repaired',
    names: operations.map((o) => o.id),
    scene: {
      merge: scene.merge,
      frames: used.map((k) => donors[k]!),
      operations: operations.map((o) => ({ ...amongUsed(o), ...(o.also && { also: o.also.map(amongUsed) }) })),
    },
  };
}
