// A new user's path: demo data, first finding repaired, picture taken away; every screen; the simulated camera.
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { openDemo, openFirstSoftPatch, scrub, type Demo } from './demo';

let demo: Demo;

test.beforeAll(async () => {
  demo = await openDemo(4377);
});
test.afterAll(() => demo.close());

test('the first finding is repaired with the frame the trace names, and undo brings it back', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
  const card = page.getByRole('complementary', { name: 'Finding' });
  await page.waitForTimeout(1200);
  await page.keyboard.press('d');
  await expect(page.getByRole('option', { selected: true })).toHaveCount(1);
  await page.waitForTimeout(800);
  await scrub(page, 90);
  await expect(page.getByText('1 stroke, saved')).toBeVisible();
  await expect(card).toContainText('Looked at again: no soft-patch left here.');
  await expect(card).toContainText('Settled: repaired');
  await page.keyboard.press('u');
  await expect(card).toContainText('is still there');
  await page.keyboard.press('Shift+U');
  await expect(card).toContainText('Settled: repaired');
});

test('the repaired picture is taken away as a 16-bit TIFF', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
  await page.getByRole('button', { name: 'Export' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Flat TIFF, 16 bit' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('merge made elsewhere repaired.tif');
  const file = readFileSync(await download.path());
  expect(file.subarray(0, 4)).toEqual(Buffer.from([0x49, 0x49, 42, 0]));
  expect(file.length).toBeGreaterThan(1150 * 850 * 6);
});

test('accepting asks for a reason; the decision stands in the queue', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
  await page.keyboard.press('n');
  const card = page.getByRole('complementary', { name: 'Finding' });
  await card.getByRole('button', { name: 'Accept' }).click();
  await expect(card.getByRole('alert')).toContainText('accepted with a reason');
  await card.getByLabel('Reason').fill('hidden by the mount');
  await card.getByRole('button', { name: 'Accept' }).click();
  await expect(card).toContainText('Settled: accepted, “hidden by the mount”');
});

test('jobs and findings show their pictures, strokes painted in', async ({ page }) => {
  const drawn = (): Promise<boolean> =>
    page.locator('img').evaluateAll((all) => all.every((img) => (img as HTMLImageElement).naturalWidth > 8));
  await page.goto(`${demo.app.url}/jobs`);
  await expect(page.locator('img').first()).toBeVisible();
  await expect.poll(drawn).toBe(true);
  await openFirstSoftPatch(page, demo);
  await expect(page.getByRole('navigation', { name: 'Findings' }).locator('img').first()).toBeVisible();
  await expect.poll(drawn).toBe(true);
});

test('alignment is shown in numbers and charts', async ({ page }) => {
  await page.goto(`${demo.app.url}/jobs/${demo.job.id}/alignment`);
  await expect(page.getByRole('row')).toHaveCount(11);
  await expect(page.getByText('Focus positions are measured from breathing.')).toBeVisible();
  await expect(page.locator('.recharts-line')).toHaveCount(5);
});

test('every screen but those with tests of their own is free of accessibility violations', async ({ page }) => {
  const stages = ['frames', 'alignment', 'merge', 'bench'].map((stage) => `jobs/${demo.job.id}/${stage}`);
  for (const stage of ['jobs', 'plan', 'plan/print', 'plan/kit', 'sort', 'camera', ...stages]) {
    await page.goto(`${demo.app.url}/${stage}`);
    await page.waitForTimeout(1000);
    const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
    expect(violations.map((v) => `${stage}: ${v.id} at ${v.nodes[0]?.target.join(' ')}`)).toEqual([]);
  }
});

test('the simulated camera takes a set with chosen settings and hands the files over', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto(`${demo.app.url}/jobs`);
  await page.getByRole('link', { name: 'Simulated camera' }).click();
  await page.getByRole('radio', { name: /Lamp room/ }).click();
  await page.getByLabel('Name of the job').fill('Five exposures');
  await page.getByLabel('Frames').fill('50');
  await page.getByLabel('Longer side, px').fill('400');
  await page.getByLabel('With a merge made elsewhere').uncheck();
  await page.getByRole('button', { name: 'Release' }).click();
  await expect(page.getByRole('alert')).toContainText('frames: 50 cannot be photographed. Accepted: from 1 to 9.');
  await page.getByLabel('Frames').fill('');
  await page.getByRole('button', { name: 'Release' }).click();
  await expect(page.getByText('frames: from 1 to 100 is accepted')).toBeVisible();
  await page.getByLabel('Frames').fill('5');
  await page.getByLabel('f-number').fill('11');
  await page.getByRole('button', { name: 'Release' }).click();
  await expect(page.getByRole('cell', { name: '400 × 300' })).toHaveCount(5, { timeout: 90_000 });
  await expect(page.getByRole('cell', { name: '1/8 s f/11 ISO 100' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Align, merge and inspect' })).toBeEnabled();
});

test('merges of other kinds made elsewhere are inspected, and the bench says what for', async ({ page }) => {
  await page.goto(`${demo.app.url}/jobs`);
  const row = page.getByRole('listitem').filter({ hasText: 'Lamp room with bright windows' });
  await expect(row).toContainText('Bracket, 3 frames · merge made elsewhere.tif');
  await row.getByRole('link').first().click();
  await page.getByRole('navigation', { name: 'Stages of this job' }).getByText('Bench').click();
  const card = page.getByRole('complementary', { name: 'Finding' });
  await expect(card).toContainText('Looked for: misalignment, ghost, halo, soft patch, clipping, seam, border, dust.');
});
