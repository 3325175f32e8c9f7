// Merging a panorama and a bracket as a user does it: shot, aligned, looked at in numbers, merged in another way.
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { removeFolder, runCli, start, temporaryFolder, until, type Application } from './application';

const data = temporaryFolder();
const cards = temporaryFolder();
let app: Application;

interface Listed {
  readonly id: string;
  readonly kind: string;
  readonly mergeId: string | null;
  readonly work: { readonly status: string } | null;
}

test.beforeAll(async () => {
  for (const [name, subject, frames] of [
    ['cove', 'cove', '3'],
    ['lamp room', 'lamp-room', '3'],
  ] as const) {
    const order = ['--subject', subject, '--frames', frames, '--size', '520', '--seed', '8'];
    expect((await runCli(['shoot', join(cards, name), ...order])).code).toBe(0);
  }
  app = await start('serve', data, 4380);
});
test.afterAll(async () => {
  await app.stop();
  removeFolder(data);
  removeFolder(cards);
});

const ask = async <T>(path: string, body?: unknown): Promise<T> => {
  const post = { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
  return (await fetch(`${app.url}${path}`, body === undefined ? {} : post)).json() as Promise<T>;
};

/** Sorts a folder and makes a job of its set, as a user would on the Sort screen. */
async function jobOf(page: Page, name: string): Promise<Listed> {
  await page.goto(`${app.url}/sort`);
  await page.getByLabel('Or a folder on this machine').fill(join(cards, name));
  await page.getByRole('button', { name: 'Read the folder' }).click();
  await page.getByRole('button', { name: 'Make a job' }).click();
  await page.getByRole('link', { name: 'Open the job' }).click();
  await expect(page).toHaveURL(/\/jobs\/[^/]+\/frames$/);
  const id = /jobs\/([^/]+)/.exec(page.url())![1]!;
  await expect(page.getByRole('button', { name: 'Align, merge and inspect' })).toBeEnabled();
  await page.getByRole('button', { name: 'Align, merge and inspect' }).click();
  await until(
    () => ask<Listed[]>('/api/jobs'),
    (jobs) => jobs.some((j) => j.id === id && j.mergeId !== null && j.work === null),
  );
  return (await ask<Listed[]>('/api/jobs')).find((j) => j.id === id)!;
}

const sound = async (page: Page): Promise<void> => {
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.nodes[0]!.html}`)).toEqual([]);
};

test('a panorama: projections side by side, merged again in another one without aligning anew', async ({ page }) => {
  const job = await jobOf(page, 'cove');
  await page.getByRole('link', { name: /^Merge/ }).click();
  await expect(page.getByRole('img', { name: /^The merge, \d+ × \d+ px$/ })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Share of each frame' })).toContainText('Every frame adds something.');
  const projections = page.getByRole('region', { name: 'Projections' });
  await expect(projections).toContainText(/Cylinder/);
  await expect(projections).toContainText(/Straight lines bend by up to \d/);
  await expect(projections).toContainText(/Unbent.*Neighbours miss each other by \d+ px/);
  await expect(projections.getByRole('img')).toHaveCount(4);
  await sound(page);
  await choose(page, 'Projection', /Sphere/);
  await page.getByRole('button', { name: 'Merge again' }).click();
  await expect(projections).toContainText('Sphere (taken)');
  const jobs = await ask<Listed[]>('/api/jobs');
  expect(jobs.find((j) => j.id === job.id)!.mergeId).not.toBe(job.mergeId);
});

test('its alignment is shown as a turning camera, with what it leaves in each frame', async ({ page }) => {
  const [job] = (await ask<Listed[]>('/api/jobs')).filter((j) => j.kind === 'panorama');
  await page.goto(`${app.url}/jobs/${job!.id}/alignment`);
  await expect(page.getByText(/3 frames as one camera that turned on the spot/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'Residual map' })).toContainText(/of \d+ places lie off/);
  await expect(page.getByRole('row')).toHaveCount(4);
  await sound(page);
});

test('a bracket: exposures in EV, merged as light, by gradients, and painted on', async ({ page }) => {
  const job = await jobOf(page, 'lamp room');
  await page.goto(`${app.url}/jobs/${job.id}/merge`);
  await expect(page.getByRole('region', { name: 'Share of each frame' })).toContainText(/-3\.\d EV/);
  await choose(page, 'Method', /gradients/);
  await expect(page.getByRole('group', { name: /From frame01/ })).toBeVisible();
  await choose(page, 'Method', /As light/);
  await page.getByRole('button', { name: 'Merge again' }).click();
  const merged = await until(
    () => ask<Listed[]>('/api/jobs'),
    (jobs) => jobs.some((j) => j.id === job.id && j.mergeId !== job.mergeId && j.work === null),
  );
  const { mergeId } = merged.find((j) => j.id === job.id)!;
  const merge = await ask<{ options: { method: string }; kind: string }>(`/api/merges/${mergeId}`);
  expect(merge).toMatchObject({ kind: 'bracket', options: { method: 'light' } });
  await sound(page);
  const report = await ask<{ kind: string; frames: { alignment: { model: string } }[] }>(
    `/api/merges/${mergeId}/report.json`,
  );
  expect(report.kind).toBe('bracket');
  expect(report.frames.map((f) => f.alignment.model)).toContain('similarity');
  await page.goto(`${app.url}/jobs/${job.id}/bench`);
  const card = page.getByRole('complementary', { name: 'Finding' });
  await expect(card).toContainText(/Looked for: misalignment, ghost, .*clipping, .*dust\./);
  await expect(card).toContainText('Look yourself for: mask speckle, fringe.');
});

const choose = async (page: Page, label: string, option: RegExp): Promise<void> => {
  await page.getByRole('combobox', { name: label }).click();
  await page.getByRole('option', { name: option }).click();
  // While it fades away it is hidden from roles, but still drawn: its faint words would be judged.
  await expect(page.locator('[role=listbox]')).toHaveCount(0);
};

/** Presses the button and waits until the job has another merge. */
async function mergedAnew(page: Page, jobId: string, button: string): Promise<string> {
  const before = (await ask<Listed[]>('/api/jobs')).find((j) => j.id === jobId)!.mergeId;
  await page.getByRole('button', { name: button }).click();
  const jobs = await until(
    () => ask<Listed[]>('/api/jobs'),
    (list) => list.some((j) => j.id === jobId && j.mergeId !== before && j.work === null),
  );
  return jobs.find((j) => j.id === jobId)!.mergeId!;
}

test('a bracket is aligned again on a subject marked by hand, with a model and local shifts as asked for', async ({
  page,
}) => {
  const job = (await ask<Listed[]>('/api/jobs')).find((j) => j.kind === 'bracket')!;
  await page.goto(`${app.url}/jobs/${job.id}/alignment`);
  await expect(page.getByText(/Aligned on the whole picture/)).toBeVisible();
  await choose(page, 'Align on', /A subject that I mark/);
  await expect(page.getByRole('button', { name: 'Align again' })).toBeDisabled();
  const area = page.getByRole('application', { name: /^Subject/ });
  for (const [x, y] of [
    [60, 60],
    [360, 60],
    [360, 260],
    [60, 260],
  ] as const)
    await area.click({ position: { x, y } });
  await page.getByRole('button', { name: 'Take back' }).click();
  await area.click({ position: { x: 60, y: 250 } });
  await expect(page.getByText('1 part is marked.')).toBeVisible();
  await choose(page, 'Model', /perspective/);
  await choose(page, 'Local shifts', /up to 1 px/);
  await sound(page);
  const id = await mergedAnew(page, job.id, 'Align again');
  await expect(
    page.getByText(
      /Aligned on the marked subject by perspective maps. Local shifts bend straight lines by up to [01]\.\d\d px/,
    ),
  ).toBeVisible();
  const merge = await ask<{ alignment: { subject: { shapes: { corners: unknown[] }[] } }; facts: { bendPx: number } }>(
    `/api/merges/${id}`,
  );
  expect(merge.alignment.subject.shapes.map((s) => s.corners.length)).toEqual([4]);
  expect(merge.facts.bendPx).toBeLessThanOrEqual(1);
});

test('the bright part of a bracket is painted in from a darker frame, with the brush and with the keyboard', async ({
  page,
}) => {
  const job = (await ask<Listed[]>('/api/jobs')).find((j) => j.kind === 'bracket')!;
  await page.goto(`${app.url}/jobs/${job.id}/merge`);
  await choose(page, 'Method', /Painted parts/);
  await expect(page.getByText('Paint what is to come from another frame.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Merge again' })).toBeDisabled();
  await choose(page, 'Paint in from', /-3\.\d EV/);
  const painter = page.getByRole('application', { name: /^Part from frame/ });
  await page.getByRole('button', { name: 'Brush' }).click();
  await painter.scrollIntoViewIfNeeded();
  const box = (await painter.boundingBox())!;
  await page.mouse.move(box.x + 80, box.y + 60);
  await page.mouse.down();
  await page.mouse.move(box.x + 200, box.y + 70, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText('1 part is marked.')).toBeVisible();
  await painter.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByText('2 parts are marked.')).toBeVisible();
  await sound(page);
  const id = await mergedAnew(page, job.id, 'Merge again');
  const merge = await ask<{ options: { method: string; parts: { shapes: unknown[] }[] }; frames: { share: number }[] }>(
    `/api/merges/${id}`,
  );
  expect(merge.options).toMatchObject({ method: 'painted' });
  expect(merge.options.parts.map((p) => p.shapes.length)).toEqual([2]);
  expect(merge.frames.filter((f) => f.share > 0.001)).toHaveLength(2);
  // What was painted is there to be changed.
  await expect(page.getByText('2 parts are marked.')).toBeVisible();
});

test('the command line merges a folder whose kind nobody named, and refuses what it does not know', async () => {
  const out = join(cards, 'cove.tif');
  const report = join(cards, 'cove.json');
  const made = await runCli(['merge', join(cards, 'cove'), '--out', out, '--report', report]);
  expect(made).toMatchObject({ code: 0, err: '' });
  const { kind, frames } = JSON.parse(readFileSync(report, 'utf8')) as { kind: string; frames: unknown[] };
  expect([kind, frames.length]).toEqual(['panorama', 3]);
  const refused = await runCli(['merge', join(cards, 'cove'), '--out', out, '--projection', 'round']);
  expect(refused.code).toBe(2);
  expect(refused.err).toContain(
    '--projection: there is no projection "round". Accepted: auto, flat, cylindrical, spherical, repositioned',
  );
});
