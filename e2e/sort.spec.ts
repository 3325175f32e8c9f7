// Sorting as a new user does it: a folder in, a set with its hand found, edited by key and by mouse, made into a job.
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { join } from 'node:path';
import { removeFolder, runCli, start, temporaryFolder, type Application } from './application';

const data = temporaryFolder();
const cards = temporaryFolder();
let app: Application;

test.beforeAll(async () => {
  const folder = join(cards, 'lamp room');
  const order = ['--subject', 'lamp-room', '--frames', '5', '--size', '480', '--seed', '8', '--separator'];
  expect((await runCli(['shoot', folder, ...order])).code).toBe(0);
  app = await start('serve', data, 4379);
});
test.afterAll(async () => {
  await app.stop();
  removeFolder(data);
  removeFolder(cards);
});

const bracket = (page: Page, frames: number) => page.getByRole('region', { name: `Bracket, ${frames} frames` });

test('a folder is read where it lies, its bracket found, and the hand that ends it', async ({ page }) => {
  await page.goto(`${app.url}/sort`);
  await page.getByLabel('Or a folder on this machine').fill(join(cards, 'nowhere'));
  await page.getByRole('button', { name: 'Read the folder' }).click();
  await expect(page.getByText(/nowhere: the folder cannot be read/)).toBeVisible();
  await page.getByLabel('Or a folder on this machine').fill(join(cards, 'lamp room'));
  await page.getByRole('button', { name: 'Read the folder' }).click();
  await expect(page.getByRole('heading', { name: 'lamp room' })).toBeVisible();
  await expect(bracket(page, 5)).toBeVisible();
  await expect(bracket(page, 5)).toContainText('one view in 5 exposures over 6.0 EV');
  await expect(
    page.getByRole('region', { name: 'Separators, 1 frame' }).getByRole('button', { name: /hand\.jpg/ }),
  ).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.nodes[0]!.html}`)).toEqual([]);
});

test('keys leave a frame out, split the set, take it back; the mouse moves a frame', async ({ page }) => {
  await page.goto(`${app.url}/sort`);
  await page.getByRole('link', { name: 'lamp room' }).click();
  await bracket(page, 5)
    .getByRole('button', { name: /frame01\.jpg/ })
    .click();
  await expect(page.getByRole('complementary', { name: 'Frame' })).toContainText('f/8');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('o');
  await expect(bracket(page, 5)).toContainText('4 of 5 frames');
  await expect(bracket(page, 5).getByRole('button', { name: 'frame02.jpg, left out' })).toBeFocused();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('s');
  await expect(bracket(page, 2)).toBeVisible();
  await expect(bracket(page, 3)).toBeVisible();
  await page.getByRole('button', { name: 'Join to the one above' }).click();
  await expect(bracket(page, 5)).toBeVisible();
  const hand = page.getByRole('button', { name: /hand\.jpg/ });
  const target = bracket(page, 5).getByRole('button', { name: /frame04\.jpg/ });
  const [from, to] = [(await hand.boundingBox())!, (await target.boundingBox())!];
  await page.mouse.move(from.x + 50, from.y + 40);
  await page.mouse.down();
  await page.mouse.move(to.x + 40, to.y + 40, { steps: 12 });
  await page.mouse.up();
  await expect(bracket(page, 6)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(bracket(page, 5)).toContainText('4 of 5 frames');
  await page.reload();
  await expect(bracket(page, 5)).toContainText('4 of 5 frames');
});

test('a set becomes a job with the frames that were kept', async ({ page }) => {
  await page.goto(`${app.url}/sort`);
  await page.getByRole('link', { name: 'lamp room' }).click();
  await page.getByRole('button', { name: 'Make a job' }).click();
  await page.getByRole('link', { name: 'Open the job' }).click();
  await expect(page.getByRole('heading', { name: 'Frames in shooting order' })).toBeVisible();
  await expect(page.getByRole('row', { name: /frame05\.jpg/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /frame02\.jpg/ })).toHaveCount(0);
});
