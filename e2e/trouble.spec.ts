// Trouble: bad files, a server killed at work, a page closed too early; the command line's one line.
import { expect, test, type Page } from '@playwright/test';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { runCli, until } from './application';
import { cardOf, openDemo, openFirstSoftPatch, scrub, type Demo, type DemoJob } from './demo';

let demo: Demo;

test.beforeAll(async () => {
  demo = await openDemo(4389);
});
test.afterAll(() => demo.close());

test('a bad file is named, the good ones stay', async ({ page }) => {
  await page.goto(`${demo.app.url}/jobs`);
  await page.getByLabel('Name of the new job').fill('Mixed');
  await page.getByRole('button', { name: 'New job' }).click();
  const good = join(cardOf(demo, demo.job.id), 'frame01.jpg');
  const cut = join(demo.data, 'cut.jpg');
  writeFileSync(cut, readFileSync(good).subarray(0, 40_000));
  await page.getByLabel('Frames', { exact: true }).setInputFiles([good, cut]);
  await expect(page.getByRole('alert')).toContainText('cut.jpg: the file ends early (truncated). Accepted: JPEG');
  await expect(page.getByRole('cell', { name: '1200 × 900' })).toBeVisible();
  await expect(page.getByRole('cell', { name: '1/4 s f/8 ISO 100' })).toBeVisible();
  await expect(page.getByText('At least 2 frames are needed.')).toBeVisible();
  await page.getByLabel('Folder path').fill('/nowhere/at/all');
  await page.getByRole('button', { name: 'Read the folder' }).click();
  await expect(page.getByText('/nowhere/at/all: the folder cannot be read')).toBeVisible();
});

test('a server killed while painting loses no stroke, nor does a page that is closed meanwhile', async ({
  page,
  context,
}) => {
  await openFirstSoftPatch(page, demo);
  const before = await demo.strokesInForce();
  const saved = (on: Page, more: number) => on.getByText(new RegExp(`^${before + more} strokes?, saved`));
  await page.waitForTimeout(1000);
  await page.getByRole('option').nth(4).click();
  await page.waitForTimeout(800);
  await scrub(page, 40);
  await expect(saved(page, 1)).toBeVisible();
  await demo.kill();
  await scrub(page, 30);
  await expect(page.getByText('server away: 1 kept, trying again')).toBeVisible();
  await demo.serve();
  await expect(saved(page, 2)).toBeVisible();
  expect(await demo.strokesInForce()).toBe(before + 2);
  await demo.kill();
  await scrub(page, 20);
  await expect(page.getByText('server away: 1 kept, trying again')).toBeVisible();
  await page.close();
  await demo.serve();
  // Whoever opens the merge next sends what was left behind.
  const next = await context.newPage();
  await openFirstSoftPatch(next, demo);
  await expect(saved(next, 3)).toBeVisible();
  expect(await demo.strokesInForce()).toBe(before + 3);
});

test('a server killed while reading and merging takes the work up again', async () => {
  const make = await fetch(`${demo.app.url}/api/jobs`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: '{"name":"Killed"}',
  });
  const { id } = (await make.json()) as { id: string };
  const post = (path: string, body: unknown): Promise<Response> =>
    fetch(`${demo.app.url}/api/jobs/${id}/${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
  const bracket = (await demo.ask<DemoJob[]>('/api/jobs')).find((j) => j.name.startsWith('Lamp room'))!;
  const taken = await post('folder', { path: cardOf(demo, bracket.id), merge: '../merge made elsewhere.tif' });
  expect(((await taken.json()) as { count: number }).count).toBe(4);
  await post('process', {});
  await demo.kill();
  await demo.serve();
  await new Promise((wait) => setTimeout(wait, 3000));
  await demo.kill();
  await demo.serve();
  const done = await until(
    () => demo.ask<{ summary: DemoJob; pictures: { status: string }[] }>(`/api/jobs/${id}`),
    (j) => Boolean(j.summary.mergeId),
  );
  expect(done.pictures.map((p) => p.status)).toEqual(new Array(4).fill('ready'));
  expect(done.summary.openFindings).toBeGreaterThan(0);
});

test('the command line merges and inspects a folder, and tells bad input in one line', async () => {
  const folder = cardOf(demo, demo.job.id);
  const report = join(demo.data, 'report.json');
  const inspected = await runCli([
    'inspect',
    folder,
    '--merge',
    join(folder, '..', 'merge made elsewhere.tif'),
    '--report',
    report,
    '--json-progress',
  ]);
  expect(inspected.code).toBe(1);
  expect(
    inspected.out
      .split('\n')
      .filter(Boolean)
      .map((l) => JSON.parse(l) as { step: string })
      .at(-1)!.step,
  ).toBe('inspect');
  const written = JSON.parse(readFileSync(report, 'utf8')) as {
    format: string;
    findings: { defect: string }[];
    frames: unknown[];
  };
  expect(written).toMatchObject({ format: 'blendrak-report', version: 1, kind: 'focus-stack' });
  expect(written.frames).toHaveLength(10);
  expect(written.findings.some((f) => f.defect === 'soft-patch')).toBe(true);
  const cut = join(demo.data, 'short.jpg');
  writeFileSync(cut, readFileSync(join(folder, 'frame01.jpg')).subarray(0, 40_000));
  const unreadable = await runCli(['inspect', folder, '--merge', cut, '--report', report]);
  expect(unreadable.code).toBe(2);
  expect(unreadable.err.trim()).toMatch(/^blendrak: short\.jpg: the file ends early \(truncated\)\. Accepted: [^\n]+$/);
  const over = await runCli(['inspect', folder, '--merge', cut, '--report', report, '--fail-over', 'many']);
  expect(over.code).toBe(2);
  expect(over.err).toContain('--fail-over: "many" cannot be used. Accepted: a visibility from 0 to 100.');
  const kind = await runCli(['merge', folder, '--kind', 'tower', '--out', join(demo.data, 'x.tif')]);
  expect(kind.code).toBe(2);
  expect(kind.err).toContain('--kind: there is no kind "tower"');
});
