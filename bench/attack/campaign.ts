// The attacks in order, in a short form that runs with the tests and a long one that prints its table.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { makeRandom } from '@blendrak/scene';
import { removeFolder, start, temporaryFolder, type Application } from '../../e2e/application';
import { attackByRequests } from './abuse';
import { makeClient, mergedJob, type Client } from './client';
import { attackByFullDisk } from './fullDisk';
import { attackByFiles } from './hostile';
import { attackByKills } from './kills';
import { attackByLongStack } from './longStack';
import { drawStack } from './sets';
import { soak } from './soak';
import type { Row } from './table';
import { attackByTwo } from './twoClients';
import { attackByViewers } from './viewers';

export interface CampaignSize {
  readonly kills: number;
  readonly files: number;
  readonly requests: number;
  /** Steps of each of two people. */
  readonly steps: number;
  readonly frames: number;
  readonly viewers: {
    readonly width: number;
    readonly height: number;
    readonly viewers: number;
    readonly seconds: number;
  };
  readonly soakMinutes: number;
}

export const ATTACKS = ['kills', 'files', 'requests', 'two', 'disk', 'frames', 'viewers', 'soak'] as const;
export type AttackName = (typeof ATTACKS)[number];

export const SHORT: CampaignSize = {
  kills: 2,
  files: 24,
  requests: 150,
  steps: 25,
  frames: 6,
  viewers: { width: 1500, height: 1000, viewers: 6, seconds: 2 },
  soakMinutes: 0.5,
};

export const LONG: CampaignSize = {
  kills: 100,
  files: 1000,
  requests: 3000,
  steps: 300,
  frames: 255,
  viewers: { width: 6000, height: 4000, viewers: 30, seconds: 30 },
  soakMinutes: 60,
};

interface Ground {
  readonly app: Application;
  readonly client: Client;
  readonly root: string;
  readonly data: string;
}

/**
 * Runs attacks, each on a server and a data folder of its own.
 * @param seed decides what is random
 * @param port first of the ports used
 */
export async function attack(
  names: readonly AttackName[],
  size: CampaignSize,
  seed: number,
  port: number,
): Promise<Row[]> {
  const random = makeRandom(seed);
  const attacks: Readonly<Record<AttackName, (root: string, port: number) => Promise<Row[]>>> = {
    kills: (root, p) => attackByKills(root, p, size.kills, random),
    files: onServer(({ client, app, root, data }) => attackByFiles(client, app, root, data, size.files, random)),
    requests: onServer(({ client }) => attackByRequests(client, size.requests, random)),
    two: onServer(async ({ client, root }) => {
      const frames = await drawStack(join(root, 'two'), { frames: 2, width: 700, height: 500 });
      return attackByTwo(client, (await mergedJob(client, 'Two', frames)).mergeId, size.steps, random);
    }),
    disk: (root, p) => attackByFullDisk(root, p),
    frames: onServer(({ client, root }) => attackByLongStack(client, root, size.frames)),
    viewers: onServer(({ client, root }) => attackByViewers(client, root, size.viewers)),
    soak: onServer(({ client, app, root, data }) => soak(client, app, root, data, size.soakMinutes)),
  };
  const rows: Row[] = [];
  for (const [k, name] of names.entries()) {
    const root = temporaryFolder();
    try {
      rows.push(...(await attacks[name](root, port + k)));
    } catch (error) {
      rows.push({
        what: name,
        result: `ended by ${error instanceof Error ? error.message : String(error)}`,
        good: false,
      });
    } finally {
      removeFolder(root);
    }
  }
  return rows;
}

function onServer(work: (ground: Ground) => Promise<Row[]>): (root: string, port: number) => Promise<Row[]> {
  return async (root, port) => {
    const data = join(root, 'data');
    mkdirSync(root, { recursive: true });
    const app = await start('serve', data, port);
    try {
      return await work({ app, client: makeClient(app.url), root, data });
    } finally {
      await app.stop();
    }
  };
}
