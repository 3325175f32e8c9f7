// From a merge to a delivered ZIP, as a retoucher goes: cut, print, what stands against it, signature, delivery.
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import AxeBuilder from '@axe-core/playwright';
import { unzipSync } from 'fflate';
import { openDemo, type Demo } from './demo';

let demo: Demo;
test.beforeAll(async () => {
  demo = await openDemo(4386);
});
test.afterAll(() => demo.close());

async function openFinish(page: Page): Promise<void> {
  await page.goto(`${demo.app.url}/jobs/${demo.job.id}/bench`);
  await page.getByRole('link', { name: /^Finish/ }).click();
  await expect(page.getByRole('heading', { name: 'Cut' })).toBeVisible();
}

test('a merge is cut, waived, signed, delivered as a ZIP, and locked until it is opened again', async ({ page }) => {
  // The demo's pictures are smaller than the sheet asks for: they come as large as they are.
  const picture = page.waitForResponse((answer) => /\/iiif\/r-[^/]+\/full\//.test(answer.url()));
  await openFinish(page);
  expect((await picture).status()).toBe(200);
  const panel = page.getByRole('complementary', { name: 'Finish' });
  await panel.getByRole('combobox', { name: 'Shape' }).click();
  await page.getByRole('option', { name: '1 : 1', exact: true }).click();
  await panel.getByRole('button', { name: 'Largest clean crop' }).click();
  await expect(panel).toContainText(/of the picture is cut off/);
  await panel.getByRole('button', { name: 'Keep this cut' }).click();
  await expect(panel.getByRole('button', { name: 'Keep this cut' })).toBeDisabled();
  await expect(panel.getByRole('button', { name: 'Sign' })).toBeDisabled();
  for (let left = await panel.getByRole('button', { name: 'Waive …' }).count(); left > 0; left--) {
    await panel.getByRole('button', { name: 'Waive …' }).first().click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('textbox', { name: 'Your name' }).fill('Ada');
    await dialog.getByRole('textbox', { name: 'Why it may stay' }).fill('a test print');
    await dialog.getByRole('button', { name: 'Waive it' }).click();
    await expect(panel.getByRole('button', { name: 'Waive …' })).toHaveCount(left - 1);
  }
  await panel.getByRole('button', { name: 'Sign', exact: true }).click();
  await expect(panel).toContainText('signed by Ada');
  await expect(page.getByRole('navigation', { name: 'Stages of this job' })).toContainText('deliver');
  await panel.getByRole('button', { name: 'Make the delivery' }).click();
  const take = panel.getByRole('link', { name: 'Take the ZIP' });
  await expect(take).toBeVisible({ timeout: 60_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), take.click()]);
  const names = Object.keys(unzipSync(readFileSync(await download.path())));
  expect(names.map((n) => n.replace(/^.*(\.[a-z0-9]+)$/, '$1')).sort()).toEqual([
    '.jpg',
    '.json',
    '.pdf',
    '.sha256',
    '.tif',
  ]);
  // What is locked says so, and nothing is lost.
  await page.goto(`${demo.app.url}/jobs/${demo.job.id}/bench`);
  await page.getByRole('navigation', { name: 'Findings' }).getByRole('button').first().click();
  const card = page.getByRole('complementary', { name: 'Finding' });
  await card.getByRole('button', { name: 'Not a defect' }).click();
  await expect(card.getByRole('alert')).toContainText('was signed by Ada');
  await openFinish(page);
  await panel.getByRole('button', { name: 'Open again' }).click();
  await expect(panel.getByRole('button', { name: 'Sign', exact: true })).toBeVisible();
});

test('the crop is moved by hand, a line straightens, and findings vanish with the distance', async ({ page }) => {
  await openFinish(page);
  const panel = page.getByRole('complementary', { name: 'Finish' });
  const sheet = page.getByRole('application', { name: 'The picture as it is cut' });
  const box = (await sheet.boundingBox())!;
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  await panel.getByRole('button', { name: 'Straighten by a line' }).click();
  await page.mouse.move(cx - 150, cy);
  await page.mouse.down();
  await page.mouse.move(cx + 150, cy + 8, { steps: 5 });
  await page.mouse.up();
  // atan(8 / 300) = 1.53° clockwise is turned back.
  await expect(panel.getByRole('textbox', { name: 'Turn, °' })).toHaveValue(/^-1\.5\d?$/);
  const stays = panel.getByText(/px stay/);
  const before = await stays.textContent();
  await page.mouse.move(cx, cy);
  await page.mouse.down();
  await page.mouse.move(cx + 2, cy + 1, { steps: 3 });
  await page.mouse.up();
  expect(await stays.textContent()).toBe(before);
  const status = page.getByText(/^From .*: /);
  const shown = async (): Promise<number> =>
    Number(/(\d+) findings? show/.exec((await status.textContent())!)?.[1] ?? 0);
  await page.getByRole('slider', { name: 'Where you stand' }).focus();
  await page.keyboard.press('Home');
  const near = await shown();
  await page.keyboard.press('End');
  await expect.poll(shown).toBeLessThan(near);
  await page.getByRole('button', { name: 'On a wall, to scale' }).click();
  await expect(page.getByRole('img', { name: /^The print on a wall, 60 × \d+ cm/ })).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations.map((v) => `${v.id} at ${v.nodes[0]?.target.join(' ')}`)).toEqual([]);
});
