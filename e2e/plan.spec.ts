// Planning as a new user does it: a plan of each kind, its card, a set shot by it and compared with it.
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { removeFolder, start, temporaryFolder, type Application } from './application';

const data = temporaryFolder();
let app: Application;

test.beforeAll(async () => {
  app = await start('serve', data, 4378);
});
test.afterAll(async () => {
  await app.stop();
  removeFolder(data);
});

async function newPlan(page: Page, kind: string, name: string): Promise<void> {
  await page.goto(`${app.url}/plan`);
  await page.getByRole('button', { name: `New ${kind}` }).click();
  await page.getByRole('textbox', { name: 'Name of the plan' }).fill(name);
  await saved(page);
}

async function saved(page: Page): Promise<void> {
  await expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();
}

const figure = (page: Page, label: string) =>
  page
    .locator('dl > div')
    .filter({ has: page.locator('dt', { hasText: new RegExp(`^${label}$`) }) })
    .locator('dd')
    .first();

test('a focus stack is planned, shot with the simulated camera, and found as planned', async ({ page }) => {
  await newPlan(page, 'focus stack', 'Lamp, close');
  await page.getByRole('combobox', { name: 'Camera' }).click();
  await page.getByRole('option', { name: /Simulated bench camera/ }).click();
  await page.getByLabel('Nearest point').fill('30 cm');
  await page.getByLabel('Farthest point').fill('34.8');
  await page.getByLabel('Blur allowed').fill('4');
  await expect(figure(page, 'Frames')).toHaveText('7');
  await page.getByLabel('Flash and hot lamps').check();
  await saved(page);
  await page.getByRole('button', { name: 'Shoot it' }).click();
  await page.getByLabel('Longer side, px').fill('480');
  await page.getByRole('button', { name: 'Release' }).click();
  await expect(page).toHaveURL(/\/jobs\/.+\/frames$/);
  const table = page.getByRole('table', { name: 'Plan against reality' });
  await expect(table.getByRole('row', { name: /Frames 7 7 as planned/ })).toBeVisible({ timeout: 60_000 });
  await expect(table.getByRole('row', { name: /Focus step .* as planned/ })).toBeVisible();
  await page.getByRole('link', { name: 'Open the plan' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the plan' })).toHaveValue('Lamp, close');
});

test('a slice moved by mouse or key leaves a gap that cannot be missed; the plan can be had back', async ({ page }) => {
  await newPlan(page, 'focus stack', 'Gap');
  const picture = page.getByRole('group', { name: /slices, 0 gaps/ });
  await expect(picture).toBeVisible();
  const slice = page.getByRole('slider', { name: /^Slice 5,/ });
  const box = (await slice.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 40, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText('no slice')).toHaveCount(1);
  await expect(page.getByText(/1 part of the subject would be sharp in no frame/)).toBeVisible();
  await saved(page);
  await page.reload();
  await expect(page.getByText('no slice')).toHaveCount(1);
  await page.getByRole('button', { name: 'Back to planned distances' }).click();
  await expect(page.getByText('no slice')).toHaveCount(0);
  await page.getByRole('slider', { name: /^Slice 5,/ }).focus();
  await page.keyboard.press('PageUp');
  await expect(page.getByText('no slice')).toHaveCount(1);
  // Dragging the aperture plans anew from both its ends.
  await page.getByRole('slider', { name: 'Aperture' }).focus();
  await page.keyboard.press('End');
  await expect(page.getByText(/Beyond f\/11 diffraction costs sharpness/).first()).toBeVisible();
});

test('what cannot be is refused at its field, what is unwise is told apart, and nothing is lost', async ({ page }) => {
  await newPlan(page, 'focus stack', 'Slips');
  const near = page.getByLabel('Nearest point');
  await near.fill('3 parsecs');
  await expect(page.getByText('3 parsecs cannot be read. A length such as 35 cm')).toBeVisible();
  await expect(figure(page, 'Frames')).toHaveText('15');
  await near.fill('40 mm');
  await expect(
    page.getByText(/Cannot be planned\. nearest point: 40 mm\. More than the focal length of 60 mm/),
  ).toBeVisible();
  await near.fill(`1' 2"`);
  await near.press('Tab');
  await expect(near).toHaveValue('1.167 ft');
  await page.getByLabel('Farthest point').fill('infinity');
  await expect(page.getByLabel('Farthest point')).toHaveValue('infinity');
  await page.getByLabel('Overlap').fill('100');
  await expect(page.getByText(/overlap: 100 %\. From 0 to 94 % is accepted/).first()).toBeVisible();
  await page.getByLabel('Overlap').fill('5');
  await expect(page.getByText(/^Mind\. Under 10 %/)).toBeVisible();
  await saved(page);
  await page.reload();
  // The unit typed last is remembered.
  await expect(page.getByLabel('Nearest point')).toHaveValue('1.167 ft');
  await expect(page.getByLabel('Overlap')).toHaveValue('5 %');
});

test('a panorama: projections side by side, flat refused beyond 120°, the lens from the print', async ({ page }) => {
  await newPlan(page, 'panorama', 'The cove');
  await expect(figure(page, 'Canvas')).toHaveText('12217 × 4832');
  await page.getByRole('button', { name: 'Take spherical' }).click();
  await expect(page.getByRole('row', { name: /Spherical .* this plan/ })).toBeVisible();
  await page.getByLabel('Angle across').fill('150');
  await expect(page.getByRole('row', { name: /Flat perspective/ })).toHaveCount(0);
  await page.getByRole('combobox', { name: 'Projection' }).click();
  await page.getByRole('option', { name: 'flat perspective' }).click();
  await expect(page.getByText(/flat perspective: 150° across\. Up to 120° is accepted/).first()).toBeVisible();
  await page.getByLabel('Angle across').fill('90');
  await page.getByRole('combobox', { name: 'Start from' }).click();
  await page.getByRole('option', { name: 'the print I want' }).click();
  await page.getByLabel('Print width').fill('1 m');
  await expect(figure(page, 'Print')).toContainText('100 ×');
});

test('a bracket with a time for water; its card can be ticked, seen at night, printed and taken along', async ({
  page,
}) => {
  await newPlan(page, 'bracket', 'Lamp room');
  await page.getByRole('button', { name: 'Add a time' }).click();
  await expect(figure(page, 'Exposures')).toHaveText('5');
  await page.getByRole('button', { name: 'Capture card' }).click();
  const card = page.getByRole('article');
  await expect(card.getByText('1/64 s (−3.0 EV)')).toBeVisible();
  await expect(card.getByRole('list', { name: 'Frames' }).getByRole('listitem')).toHaveCount(7);
  await card.getByRole('checkbox', { name: /^Hand/ }).first().check();
  await card.getByRole('checkbox', { name: 'Night' }).check();
  await expect(card).toHaveCSS('background-color', 'rgb(0, 0, 0)');
  const taken = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Take along as a page' }).click();
  const file = await taken;
  expect(file.suggestedFilename()).toBe('Lamp room, capture card.html');
  expect(readFileSync((await file.path())!, 'utf8')).toContain('silky water');
  const pdf = page.waitForEvent('download');
  await page.getByRole('link', { name: 'PDF' }).click();
  expect((await pdf).suggestedFilename()).toBe('Lamp room, capture card.pdf');
});

test('a camera’s focus step is measured from a job and chosen by the next plan', async ({ page }) => {
  await page.goto(`${app.url}/plan/kit`);
  const last = page.getByRole('button', { name: 'Add or measure a step' });
  await last.nth(6).click();
  await page.getByLabel('Setting').fill('4');
  await page.getByRole('combobox', { name: 'Measure from job' }).click();
  await page.getByRole('option', { name: 'Lamp, close' }).click();
  await page.getByRole('button', { name: 'Measure', exact: true }).click();
  await expect(page.getByText(/setting 4: \d+ ± \d+ % of a slice/)).toBeVisible();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
  await page.reload();
  await expect(page.getByText(/setting 4: \d+ ± \d+ % of a slice/)).toBeVisible();
});

test('a plan can be duplicated and removed; the planners have no accessibility faults', async ({ page }) => {
  await page.goto(`${app.url}/plan`);
  await page.getByRole('link', { name: 'Gap', exact: true }).click();
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the plan' })).toHaveValue('Gap, copy');
  const faults = async (): Promise<string[]> =>
    (await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.nodes[0]!.html}`);
  expect(await faults()).toEqual([]);
  page.once('dialog', (dialog) => void dialog.accept());
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page).toHaveURL(`${app.url}/plan`);
  await expect(page.getByRole('link', { name: 'Gap, copy', exact: true })).toHaveCount(0);
  expect(await faults()).toEqual([]);
  await page.getByRole('link', { name: 'Print check' }).click();
  await expect(page.getByText('More pixels would not show')).toBeVisible();
  await page.getByLabel('Resolution').fill('100');
  await expect(page.getByText('More pixels would not show')).toBeVisible();
  await page.getByRole('combobox', { name: 'Viewed from' }).click();
  await page.getByRole('option', { name: 'a distance' }).click();
  await expect(page.getByText('More pixels would show')).toBeVisible();
  // Fading menus have little contrast.
  await expect(page.locator('[role=listbox]')).toHaveCount(0);
  expect(await faults()).toEqual([]);
});
