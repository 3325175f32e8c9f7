// Demo data, made once for all browser tests: each file of tests works on a copy of its own.
import { expect, type Page } from '@playwright/test';
import { cpSync } from 'node:fs';
import { join } from 'node:path';
import { removeFolder, start, temporaryFolder, until, type Application } from './application';

export interface DemoJob {
  readonly id: string;
  readonly name: string;
  readonly mergeId: string | null;
  readonly openFindings: number;
  readonly work: unknown;
}

const MADE = 'BLENDRAK_E2E_DEMO';
const PORT = 4376;
const STACK = 'Signal lamp gear train, Kestrel Point';

/** Makes the demo data before the first test; what it returns throws them away after the last one. */
export default async function makeDemo(): Promise<() => void> {
  const data = temporaryFolder();
  const app = await start('demo', data, PORT);
  await until(
    async () => (await (await fetch(`${app.url}/api/jobs`)).json()) as DemoJob[],
    (jobs) => jobs.length === 2 && jobs.every((j) => j.mergeId !== null && j.work === null),
    900_000,
  );
  await app.stop();
  process.env[MADE] = data;
  return () => removeFolder(data);
}

/** A server on a copy of the demo data. */
export interface Demo {
  readonly data: string;
  readonly app: Application;
  /** The job with the focus stack. */
  readonly job: DemoJob;
  ask<T>(path: string): Promise<T>;
  strokesInForce(): Promise<number>;
  /** kill -9, as a power cut would. */
  kill(): Promise<void>;
  /** Starts it again. */
  serve(): Promise<void>;
  close(): Promise<void>;
}

/** Copies the demo data and serves them. */
export async function openDemo(port: number): Promise<Demo> {
  const data = temporaryFolder();
  cpSync(process.env[MADE]!, data, { recursive: true });
  let app = await start('serve', data, port);
  const ask = async <T>(path: string): Promise<T> => (await (await fetch(app.url + path)).json()) as T;
  const job = (await ask<DemoJob[]>('/api/jobs')).find((j) => j.name === STACK)!;
  return {
    data,
    get app() {
      return app;
    },
    job,
    ask,
    strokesInForce: async () => {
      const { changed } = await ask<{ changed: unknown[] }>(`/api/merges/${job.mergeId!}/operations`);
      return changed.length;
    },
    kill: () => app.kill(),
    serve: async () => {
      app = await start('serve', data, port);
    },
    close: async () => {
      await app.stop();
      removeFolder(data);
    },
  };
}

/** Where the camera left the frames of a job. */
export function cardOf({ data }: Demo, jobId: string): string {
  return join(data, 'cards', jobId, 'card');
}

/** Opens the bench as a user does, and the first soft patch of the queue. */
export async function openFirstSoftPatch(page: Page, { app }: Demo): Promise<void> {
  await page.goto(`${app.url}/jobs`);
  await page.getByRole('link', { name: STACK }).click();
  await page
    .getByRole('navigation', { name: 'Findings' })
    .getByRole('button', { name: /^Soft patch/ })
    .first()
    .click();
  await expect(page.getByRole('complementary', { name: 'Finding' })).toContainText('shows this place sharp');
  // Other merges to paint with may lie behind the ten frames.
  const frames = page.getByRole('listbox', { name: 'Frames at this place' }).getByRole('option');
  await expect(frames.nth(9)).toBeVisible();
}

/** Paints back and forth over a screen box around the middle of the picture area. */
export async function scrub(page: Page, half: number): Promise<void> {
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(cx - half, cy - half);
  await page.mouse.down();
  for (let y = -half; y <= half; y += 24) {
    await page.mouse.move(cx + half, cy + y, { steps: 4 });
    await page.mouse.move(cx - half, cy + y + 12, { steps: 4 });
  }
  await page.mouse.up();
}
