// The bench's instruments as people use them: looks, probes with their pins, the sweep, and marks by hand.
import { expect, test, type Page } from '@playwright/test';
import { openDemo, openFirstSoftPatch, scrub, type Demo } from './demo';

let demo: Demo;

test.beforeAll(async () => {
  demo = await openDemo(4382);
});
test.afterAll(() => demo.close());

const card = (page: Page) => page.getByRole('complementary', { name: 'Finding' });
const picture = (page: Page) => page.getByRole('application', { name: 'Picture' });

async function middleOf(page: Page): Promise<{ x: number; y: number }> {
  const box = (await picture(page).boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

async function drag(page: Page, path: readonly (readonly [number, number])[]): Promise<void> {
  const { x, y } = await middleOf(page);
  const [first, ...rest] = path;
  await page.mouse.move(x + first![0], y + first![1]);
  await page.mouse.down();
  for (const [dx, dy] of rest) await page.mouse.move(x + dx, y + dy, { steps: 6 });
  await page.mouse.up();
}

test('looks: held for a moment, kept with Shift, chosen from the menu; a line parts frame and merge', async ({
  page,
}) => {
  await openFirstSoftPatch(page, demo);
  const compare = page.getByRole('button', { name: /^(?!More).*▾$/ });
  await page.keyboard.down('s');
  await expect(compare).toHaveText(/^Difference to \d+ ▾$/);
  await page.keyboard.up('s');
  await expect(compare).toHaveText('Compare ▾');
  await page.keyboard.press('Shift+V');
  await expect(page.getByRole('img', { name: 'The same place in another look' })).toHaveCount(3);
  await compare.click();
  await page.getByRole('menuitem', { name: /^Frame \d+ \| merge/ }).click();
  const line = page.getByRole('slider', { name: 'Line between frame and merge' });
  const before = Number(await line.getAttribute('aria-valuenow'));
  await line.focus();
  await page.keyboard.press('ArrowRight');
  expect(Number(await line.getAttribute('aria-valuenow'))).toBeGreaterThan(before);
  await compare.click();
  const maps = page.waitForResponse((r) => r.url().includes('-risk/') && r.ok());
  await page.getByRole('menuitem', { name: /^Risk/ }).click();
  await maps;
});

test('a probe leaves a pin with its reading, which is still there after a reload and in the report', async ({
  page,
}) => {
  await openFirstSoftPatch(page, demo);
  // Wherever the patch lies, the middle of the whole picture is well inside it.
  await page.keyboard.press('0');
  await page.waitForTimeout(800);
  await page.keyboard.press('h');
  await drag(page, [[-90, 0], [90, 10]]); // prettier-ignore
  await expect(card(page)).toContainText('1 · Patch probe');
  await expect(card(page)).toContainText(/Difference of the sides[\d.]+ ΔE00/);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await expect(card(page).getByRole('list', { name: 'Pins' }).getByRole('listitem')).toHaveCount(1);
  await page.reload();
  await card(page).getByRole('list', { name: 'Pins' }).getByRole('button').click();
  await expect(card(page)).toContainText('1 · Patch probe');
  const report = await demo.ask<{ pins: { number: number }[] }>(`/api/merges/${demo.job.mergeId!}/report.json`);
  expect(report.pins.map((p) => p.number)).toEqual([1]);
  await card(page).getByRole('button', { name: 'Remove' }).click();
  await expect(card(page).getByRole('list', { name: 'Pins' })).toHaveCount(0);
});

test('a probe too short says so and leaves nothing', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
  await page.keyboard.press('1');
  await page.keyboard.press('j');
  // By keyboard: the cross is put down, moved by two px, and lifted.
  await picture(page).focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Space');
  for (let k = 0; k < 2; k++) await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Space');
  await expect(page.getByText('Too small to tell anything. Draw across an edge')).toBeVisible();
  expect(await demo.ask<unknown[]>(`/api/merges/${demo.job.mergeId!}/pins`)).toEqual([]);
});

test('further tools stand in a menu: a fade, a place from corner to corner, a nudge; each shows and is taken back', async ({
  page,
}) => {
  await openFirstSoftPatch(page, demo);
  const path = `/api/merges/${demo.job.mergeId!}/operations`;
  interface Made {
    readonly id: string;
    readonly donor: number | null;
    readonly shape: { readonly kind: string; readonly points?: unknown[] };
  }
  const operations = async (): Promise<Made[]> => (await demo.ask<{ changed: Made[] }>(path)).changed;
  const count = (await operations()).length;
  const saved = (n: number) => expect.poll(async () => (await operations()).length).toBe(count + n);
  const newest = async () => (await operations()).at(-1)!;
  const shownAnew = () => page.waitForResponse((r) => r.url().includes(`/iiif/r-${demo.job.mergeId!}/`) && r.ok());
  await page.getByRole('button', { name: 'More ▾' }).click();
  await page.getByRole('menuitem', { name: /^Fade/ }).click();
  await expect(page.getByRole('button', { name: 'Fade ▾' })).toBeVisible();
  await expect(page.locator('.MuiModal-root')).toHaveCount(0);
  let tile = shownAnew();
  await drag(page, [[-40, 0], [60, 0]]); // prettier-ignore
  await Promise.all([saved(1), tile]);
  expect((await newest()).shape.kind).toBe('fade');
  await page.keyboard.press('Shift+O');
  const corners: [number, number][] = [[-50, -50], [50, -50], [50, 50], [-50, -50]]; // prettier-ignore
  for (const corner of corners) await drag(page, [corner]);
  await saved(2);
  expect((await newest()).shape).toMatchObject({ kind: 'outline', points: [{}, {}, {}] });
  await page.keyboard.press('Shift+J');
  tile = shownAnew();
  await drag(page, [[0, 0], [6, 0]]); // prettier-ignore
  await Promise.all([saved(3), tile]);
  expect(await newest()).toMatchObject({ donor: null, pull: { knots: [{}] } });
  for (let left = 2; left >= 0; left--) {
    await page.getByRole('button', { name: 'Undo' }).click();
    await saved(left);
  }
});

test('the sweep goes to what was not seen and remembers what was', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
  await page.goto(`${demo.app.url}/jobs/${demo.job.id}/bench`);
  const share = async (): Promise<number> =>
    Number(/full size: (\d+) %/.exec((await card(page).textContent())!)?.[1] ?? NaN);
  await expect.poll(share).toBeGreaterThanOrEqual(0);
  const before = await share();
  await page.keyboard.press('a');
  await page.mouse.move(500, 400);
  await expect.poll(share).toBeGreaterThan(before + 15);
  const { x, y } = await middleOf(page);
  for (let k = 0, seen = await share(); k < 12 && seen < 100; k++) {
    await page.keyboard.press('a');
    await page.mouse.move(x + 5 * k, y);
    await expect.poll(share).toBeGreaterThan(seen);
    seen = await share();
  }
  expect(await share()).toBe(100);
  const isToldWhole = async (): Promise<boolean> => {
    const { seen } = await demo.ask<{ seen: string }>(`/api/merges/${demo.job.mergeId!}/sweep`);
    return Buffer.from(seen, 'base64').every((square) => square > 0);
  };
  await expect.poll(isToldWhole).toBe(true);
  await page.reload();
  await expect.poll(share).toBe(100);
});

test('a repair is worked out, looked at and kept with one key, and taken back like any stroke', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
  await page.keyboard.press('y');
  await expect(card(page)).toContainText('nothing of it is left', { timeout: 20_000 });
  await expect(card(page).getByRole('img', { name: /^Repaired/ })).toBeVisible();
  expect(await demo.strokesInForce()).toBe(0);
  await page.keyboard.press('y');
  await expect(card(page)).toContainText('Looked at again: no soft-patch left here.');
  await expect(card(page)).toContainText('Settled: repaired');
  await expect.poll(() => demo.strokesInForce()).toBe(1);
  await page.keyboard.press('u');
  await expect(card(page)).toContainText('is still there');
});

test('another merge of the set is made on the strip and painted with; the finding under it is gone', async ({
  page,
}) => {
  await openFirstSoftPatch(page, demo);
  const frames = page.getByRole('listbox', { name: 'Frames at this place' });
  await page.getByRole('button', { name: 'Another merge to paint with' }).click();
  await page.getByRole('menuitem', { name: /^Sharpest frame/ }).click();
  await frames.getByRole('option', { name: 'own merge, sharpest frame' }).click();
  await expect(page.getByRole('button', { name: 'Merge M1' })).toBeVisible();
  const painted = page.waitForResponse((r) => /\/changes/.test(r.url()) && r.request().method() === 'POST');
  await scrub(page, 60);
  await painted;
  await expect(card(page)).toContainText('Settled: repaired');
  await page.keyboard.press('Control+z');
  await expect(card(page)).not.toContainText('Settled: repaired');
});

test('repairs of all that is visible are worked out, looked through and kept together', async ({ page }) => {
  await page.goto(`${demo.app.url}/jobs/${demo.job.id}/bench`);
  const panel = page.getByRole('region', { name: 'Repairs by themselves' });
  await panel.getByRole('textbox', { name: 'Visible above' }).fill('30');
  await panel.getByRole('button', { name: /^Work out \d+$/ }).click();
  const keep = panel.getByRole('button', { name: /^Keep the/ });
  await expect(panel.getByRole('button', { name: 'Cancel' })).toBeHidden({ timeout: 60_000 });
  await keep.click();
  await expect(page.getByRole('navigation', { name: 'Findings' })).toContainText('repaired');
  expect(await demo.strokesInForce()).toBeGreaterThan(0);
  // One of them is softened in the record, and put back as it was made.
  const softened = async (): Promise<number[]> => {
    const { changed } = await demo.ask<{ changed: { mask: { softenPx: number } | null }[] }>(
      `/api/merges/${demo.job.mergeId!}/operations`,
    );
    return changed.flatMap(({ mask }) => (mask ? [mask.softenPx] : []));
  };
  const record = page.getByRole('list', { name: 'Operations' });
  await record.getByRole('button', { name: /^More of / }).first().click(); // prettier-ignore
  await page.getByRole('menuitem', { name: 'Change its mask …' }).click();
  const mask = page.getByRole('dialog', { name: /^Mask of / });
  await mask.getByRole('slider', { name: 'Soften the rim' }).press('PageUp');
  await expect.poll(softened).toEqual([10]);
  await mask.getByRole('button', { name: 'As it was made' }).click();
  await expect.poll(softened).toEqual([]);
});

test('a defect that nobody found is outlined, named and traced', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
  const queue = page.getByRole('navigation', { name: 'Findings' });
  const count = await queue.getByRole('button').count();
  await page.keyboard.press('o');
  await drag(page, [[-60, -40], [60, -40], [60, 40], [-60, 40], [-60, -36]]); // prettier-ignore
  const dialog = page.getByRole('dialog', { name: 'What is it?' });
  await dialog.getByRole('radio', { name: 'Ghost' }).check();
  await dialog.getByRole('button', { name: 'Mark and trace' }).click();
  await expect(card(page)).toContainText('Marked by hand. The merge shows');
  await expect(queue.getByRole('button')).toHaveCount(count + 1);
  await card(page).getByRole('button', { name: 'Not a defect' }).click();
  await expect(card(page)).toContainText('Settled: not a defect');
});
