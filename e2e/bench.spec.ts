// A new user's path: demo data, first finding repaired, picture taken away; bad files; a killed server.
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { removeFolder, runCli, start, temporaryFolder, until, type Application } from './application';

interface JobAnswer {
  id: string;
  name: string;
  mergeId: string | null;
  openFindings: number;
}
const data = temporaryFolder();
let app: Application;
let job: JobAnswer;

const ask = async <T>(path: string): Promise<T> => (await (await fetch(app.url + path)).json()) as T;
/** Where the camera left the job's files. */
const card = (): string => join(data, 'cards', job.id, 'card');
const strokesInForce = async (): Promise<number> => {
  const { changed } = await ask<{ changed: unknown[] }>(`/api/merges/${job.mergeId!}/operations`);
  return changed.length;
};

test.beforeAll(async () => {
  test.setTimeout(300_000);
  app = await start('demo', data, 4377);
  job = await until(
    async () => (await ask<JobAnswer[]>('/api/jobs')).find((j) => j.name === 'Signal lamp gear train, Kestrel Point')!,
    (j) => Boolean(j?.mergeId),
    280_000,
  );
});
test.afterAll(async () => {
  await app.stop();
  removeFolder(data);
});

async function openFirstSoftPatch(page: Page): Promise<void> {
  await page.goto(`${app.url}/jobs`);
  await page.getByRole('link', { name: 'Signal lamp gear train, Kestrel Point' }).click();
  await page
    .getByRole('navigation', { name: 'Findings' })
    .getByRole('button', { name: /^Soft patch/ })
    .first()
    .click();
  await expect(page.getByRole('complementary', { name: 'Finding' })).toContainText('shows this place sharp');
  await expect(page.getByRole('listbox', { name: 'Frames at this place' }).getByRole('option')).toHaveCount(10);
}

/** Paints back and forth over a screen box around the middle of the picture area. */
async function scrub(page: Page, half: number): Promise<void> {
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

test('the first finding is repaired with the frame the trace names, and undo brings it back', async ({ page }) => {
  await openFirstSoftPatch(page);
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

test('a stroke shows at once under the brush, before the server has answered', async ({ page }) => {
  await openFirstSoftPatch(page);
  await page.waitForTimeout(1200);
  await page.getByRole('option').nth(0).click();
  await page.waitForTimeout(800);
  await page.route('**/changes?**', (route) => setTimeout(() => void route.continue(), 1500));
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  const clip = { x: box.x + box.width / 2 - 30, y: box.y + box.height / 2 - 10, width: 60, height: 20 };
  const before = await page.screenshot({ clip });
  await page.mouse.move(clip.x - 20, clip.y + 10);
  await page.mouse.down();
  await page.mouse.move(clip.x + 80, clip.y + 10, { steps: 8 });
  await page.mouse.move(clip.x + 200, clip.y + 150, { steps: 3 });
  expect((await page.screenshot({ clip })).equals(before)).toBe(false);
  await page.mouse.up();
  await expect(page.getByText('saving …')).toBeVisible();
  await expect(page.getByText(/strokes?, saved/)).toBeVisible();
  await page.keyboard.press('u');
});

test('the repaired picture is taken away as a 16-bit TIFF', async ({ page }) => {
  await openFirstSoftPatch(page);
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

test('a peek returns to what was looked at, and keys work whatever has the focus', async ({ page }) => {
  await openFirstSoftPatch(page);
  const shown = page.getByRole('group', { name: 'What is shown' });
  const pressed = (name: string) => shown.getByRole('button', { name, pressed: true });
  await shown.getByRole('button', { name: 'Before' }).click();
  await page.keyboard.down('w');
  await expect(pressed('Frame')).toBeVisible();
  await page.keyboard.up('w');
  await expect(pressed('Before')).toBeVisible();
  // A key that is held while the window loses the focus is let go.
  await page.keyboard.down('w');
  await expect(pressed('Frame')).toBeVisible();
  await page.evaluate(() => window.dispatchEvent(new Event('blur')));
  await expect(pressed('Before')).toBeVisible();
  await page.keyboard.up('w');
  // A patch of the strip has the focus; the frame in hand is the one on the button.
  await page.getByRole('listbox', { name: 'Frames at this place' }).getByRole('option').nth(3).click();
  await page.keyboard.press('m');
  await expect(page.getByRole('button', { name: 'Marks', pressed: false })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.keyboard.press('m');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(page.getByRole('button', { name: 'Marks', pressed: false })).toBeVisible();
  await expect(page.getByText('with 4')).toBeVisible();
});

test('undo takes back the stroke painted last, sent or not, and redo brings that one', async ({ page }) => {
  await openFirstSoftPatch(page);
  await page.keyboard.press('d');
  const before = await strokesInForce();
  await page.route('**/changes?**', (route) => route.abort());
  await page.waitForTimeout(1000);
  await scrub(page, 30);
  await scrub(page, 20);
  await expect(page.getByText('server away: 2 kept')).toBeVisible();
  await page.keyboard.press('u');
  await page.keyboard.press('Shift+U');
  await page.keyboard.press('u');
  await expect(page.getByText('server away: 5 kept')).toBeVisible();
  await page.unroute('**/changes?**');
  await expect.poll(strokesInForce).toBe(before + 1);
  await page.keyboard.press('u');
  await expect.poll(strokesInForce).toBe(before);
});

test('a stroke on its way stays where it was painted when the picture moves; one given up leaves nothing', async ({
  page,
}) => {
  await openFirstSoftPatch(page);
  await page.waitForTimeout(1200);
  await page.getByRole('option').nth(0).click();
  await page.keyboard.press('m');
  await page.waitForTimeout(800);
  await page.route('**/changes?**', (route) => route.abort());
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  const [x, y] = [Math.round(box.x + box.width / 2), Math.round(box.y + box.height / 2)];
  const clip = { x: x - 40, y: y - 30, width: 80, height: 60 };
  const shot = async (at = clip): Promise<Buffer> => {
    await page.mouse.move(box.x + 30, box.y + 30);
    await page.waitForTimeout(200);
    return page.screenshot({ clip: at });
  };
  const plain = await shot();
  await page.mouse.move(x - 40, y);
  await page.mouse.down();
  await page.mouse.move(x + 40, y, { steps: 6 });
  await page.waitForTimeout(300);
  // The picture has the focus while it is painted on.
  await page.keyboard.press('Escape');
  await page.mouse.up();
  expect((await shot()).equals(plain)).toBe(true);
  await expect(page.getByText(/kept, trying again/)).toHaveCount(0);
  await page.mouse.move(x - 40, y);
  await page.mouse.down();
  await page.mouse.move(x + 40, y, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText('server away: 1 kept')).toBeVisible();
  const painted = await shot();
  expect(painted.equals(plain)).toBe(false);
  await page.mouse.move(x + 100, y + 100);
  await page.mouse.down({ button: 'right' });
  await page.mouse.move(x + 60, y + 70, { steps: 4 });
  await page.mouse.up({ button: 'right' });
  const moved = await shot({ ...clip, x: clip.x - 40, y: clip.y - 30 });
  const [a, b] = await Promise.all([painted, moved].map((png) => sharp(png).raw().toBuffer()));
  const apart = a!.reduce((sum, v, i) => sum + Math.abs(v - b![i]!), 0) / a!.length;
  // Half a px of the screen may lie between them.
  expect(apart).toBeLessThan(6);
  await page.unroute('**/changes?**');
  await expect(page.getByText(/strokes?, saved/)).toBeVisible();
  await page.keyboard.press('u');
});

test('the picture is worked on by keys alone', async ({ page }) => {
  await openFirstSoftPatch(page);
  const before = await strokesInForce();
  await page.keyboard.press('d');
  await page.waitForTimeout(1000);
  await page.getByRole('application', { name: 'Picture' }).focus();
  for (const key of ['ArrowRight', 'ArrowDown', 'Space', 'ArrowRight', 'ArrowRight', 'Shift+ArrowDown', 'Space'])
    await page.keyboard.press(key);
  await expect.poll(strokesInForce).toBe(before + 1);
  await page.keyboard.press('u');
  await expect.poll(strokesInForce).toBe(before);
  // With nothing in hand the same key traces the place.
  await page.keyboard.press('Escape');
  const traced = page.waitForRequest((request) => request.url().includes('/probe?'));
  for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Space');
  await traced;
});

test('a change that comes in mid-stroke takes nothing of the stroke away', async ({ page }) => {
  await openFirstSoftPatch(page);
  const before = await strokesInForce();
  await page.keyboard.press('d');
  await page.waitForTimeout(1000);
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  await page.mouse.move(box.x + 300, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(box.x + 340, box.y + 200, { steps: 4 });
  const shape = { kind: 'stroke', points: [[40, 40]], sizePx: 20, hardness: 1, strength: 1 };
  const change = { kind: 'add', operation: { kind: 'paint', donor: 0, shape } };
  const answer = await fetch(`${app.url}/api/merges/${job.mergeId!}/changes`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', 'X-Blendrak-Person': 'somebody-else' },
    body: JSON.stringify({ id: 'in-mid-stroke', change }),
  });
  expect(answer.status).toBe(201);
  await expect(page.getByText(`${before + 1} stroke`, { exact: false })).toBeVisible();
  await page.mouse.move(box.x + 380, box.y + 200, { steps: 4 });
  await page.mouse.up();
  await expect.poll(strokesInForce).toBe(before + 2);
  // Undo takes back one's own, not what came meanwhile.
  await page.keyboard.press('u');
  await expect.poll(strokesInForce).toBe(before + 1);
  const { changed } = await ask<{ changed: { id: string }[] }>(`/api/merges/${job.mergeId!}/operations`);
  expect(changed.map((o) => o.id)).toContain('in-mid-stroke');
});

test('parts of the picture that could not be had come once the server is back', async ({ page }) => {
  await page.route('**/iiif/r-**', (route) => route.abort());
  await page.goto(`${app.url}/jobs/${job.id}/bench`);
  const picture = page.getByRole('application', { name: 'Picture' });
  await picture.waitFor();
  await page.waitForTimeout(4000);
  const box = (await picture.boundingBox())!;
  const clip = { x: box.x + box.width / 2 - 60, y: box.y + box.height / 2 - 60, width: 120, height: 120 };
  const spread = async (): Promise<number> => {
    const { channels } = await sharp(await page.screenshot({ clip })).stats();
    return Math.max(...channels.map((c) => c.stdev));
  };
  await page.keyboard.press('m');
  expect(await spread()).toBeLessThan(1);
  await page.unroute('**/iiif/r-**');
  await expect.poll(spread).toBeGreaterThan(5);
});

test('before and after lie side by side and move in step', async ({ page }) => {
  await openFirstSoftPatch(page);
  await page.getByRole('button', { name: 'Side by side' }).click();
  const other = page.getByRole('img', { name: 'The same place in another look' });
  await expect(other).toBeVisible();
  await page.keyboard.press('m');
  await page.waitForTimeout(1500);
  const picture = page.getByRole('application', { name: 'Picture' });
  /** How much the panes differ at the same place, and at places that do not belong together. */
  const apart = async (): Promise<[same: number, elsewhere: number]> => {
    const [left, right] = await Promise.all([other, picture].map((pane) => pane.boundingBox()));
    const cut = async (x: number, y: number): Promise<Buffer> => {
      const clip = { x: Math.round(x), y: Math.round(y), width: 200, height: 200 };
      return sharp(await page.screenshot({ clip }))
        .raw()
        .toBuffer();
    };
    const differs = (a: Buffer, b: Buffer): number => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;
    const reference = await cut(left!.x + 60, left!.y + 60);
    return [
      differs(reference, await cut(right!.x + 60, right!.y + 60)),
      differs(reference, await cut(right!.x + 95, right!.y + 60)),
    ];
  };
  const [same, elsewhere] = await apart();
  expect(same).toBeLessThan(0.5 * elsewhere);
  await page.keyboard.press('+');
  await page.keyboard.press('+');
  await page.waitForTimeout(1500);
  const [sameCloser, elsewhereCloser] = await apart();
  expect(sameCloser).toBeLessThan(0.5 * elsewhereCloser);
});

test('the picture has more than half of the window, and the strip asks once for each rest', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await openFirstSoftPatch(page);
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  expect((box.width * box.height) / (1280 * 800)).toBeGreaterThan(0.55);
  await page.waitForTimeout(1000);
  const asked: string[] = [];
  page.on('request', (request) => asked.push(new URL(request.url()).pathname));
  await page.mouse.move(box.x + 100, box.y + 100);
  await page.mouse.move(box.x + 300, box.y + 200, { steps: 5 });
  await page.waitForTimeout(1000);
  expect(asked).toEqual([`/api/merges/${job.mergeId!}/probe`]);
});

test('on a tablet fingers move and pinch the picture, tap to trace, and paint with something in hand', async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 1024, height: 768 }, hasTouch: true });
  const page = await context.newPage();
  await page.goto(`${app.url}/jobs/${job.id}/bench`);
  const queue = page.getByRole('navigation', { name: 'Findings' });
  await queue
    .getByRole('button', { name: /^Soft patch/ })
    .first()
    .tap();
  // The card is folded where it would lie over the picture; it opens when it is wanted.
  const card = page.getByRole('complementary', { name: 'Finding' });
  await card.getByRole('button', { name: 'Open the card: Soft patch' }).tap();
  await expect(card).toContainText('shows this place sharp');
  await card.getByRole('button', { name: 'Fold the card: Soft patch' }).tap();
  await page.waitForTimeout(1200);
  const before = await strokesInForce();
  const picture = page.getByRole('application', { name: 'Picture' });
  const box = (await picture.boundingBox())!;
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1024);
  const devtools = await context.newCDPSession(page);
  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...points: [number, number][]) =>
    devtools.send('Input.dispatchTouchEvent', { type, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });
  const [x, y] = [box.x + 200, box.y + 200];
  const zoom = async (): Promise<number> =>
    parseFloat(
      (await page
        .getByText(/^\d+ %/)
        .first()
        .textContent())!,
    );
  const start = await zoom();
  const traced = page.waitForRequest((request) => request.url().includes('/probe?'));
  await touch('touchStart', [x, y]);
  await touch('touchEnd');
  await traced;
  await page.keyboard.press('d');
  await page.waitForTimeout(800);
  // Two fingers pinch although something is in hand, and paint nothing.
  await touch('touchStart', [x, y]);
  await touch('touchStart', [x, y], [x + 100, y]);
  for (let k = 1; k <= 5; k++) await touch('touchMove', [x - 10 * k, y], [x + 100 + 10 * k, y]);
  await touch('touchEnd');
  await expect.poll(zoom).toBeGreaterThan(1.7 * start);
  expect(await strokesInForce()).toBe(before);
  await touch('touchStart', [x, y]);
  for (let k = 1; k <= 5; k++) await touch('touchMove', [x + 8 * k, y + 4 * k]);
  await touch('touchEnd');
  await expect.poll(strokesInForce).toBe(before + 1);
  await page.keyboard.press('u');
  await expect.poll(strokesInForce).toBe(before);
  await context.close();
});

test('accepting asks for a reason; the decision stands in the queue', async ({ page }) => {
  await openFirstSoftPatch(page);
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
  await page.goto(`${app.url}/jobs`);
  await expect(page.locator('img').first()).toBeVisible();
  await expect.poll(drawn).toBe(true);
  await openFirstSoftPatch(page);
  await expect(page.getByRole('navigation', { name: 'Findings' }).locator('img').first()).toBeVisible();
  await expect.poll(drawn).toBe(true);
});

test('alignment is shown in numbers and charts', async ({ page }) => {
  await page.goto(`${app.url}/jobs/${job.id}/alignment`);
  await expect(page.getByRole('row')).toHaveCount(11);
  await expect(page.getByText('Focus positions are measured from breathing.')).toBeVisible();
  await expect(page.locator('.recharts-line')).toHaveCount(5);
});

test('every screen but those with tests of their own is free of accessibility violations', async ({ page }) => {
  const stages = ['frames', 'alignment', 'merge', 'bench'].map((stage) => `jobs/${job.id}/${stage}`);
  for (const stage of ['jobs', 'plan', 'plan/print', 'plan/kit', 'sort', 'camera', ...stages]) {
    await page.goto(`${app.url}/${stage}`);
    await page.waitForTimeout(1000);
    const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
    expect(violations.map((v) => `${stage}: ${v.id} at ${v.nodes[0]?.target.join(' ')}`)).toEqual([]);
  }
});

test('the simulated camera takes a set with chosen settings and hands the files over', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto(`${app.url}/jobs`);
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
  await page.goto(`${app.url}/jobs`);
  const row = page.getByRole('listitem').filter({ hasText: 'Lamp room with bright windows' });
  await expect(row).toContainText('Bracket, 3 frames · merge made elsewhere.tif');
  await row.getByRole('link').first().click();
  await page.getByRole('navigation', { name: 'Stages of this job' }).getByText('Bench').click();
  const card = page.getByRole('complementary', { name: 'Finding' });
  await expect(card).toContainText('Looked for: misalignment, ghost, clipping, seam, border, dust.');
});

test('a bad file is named, the good ones stay', async ({ page }) => {
  await page.goto(`${app.url}/jobs`);
  await page.getByLabel('Name of the new job').fill('Mixed');
  await page.getByRole('button', { name: 'New job' }).click();
  const good = join(card(), 'frame01.jpg');
  const cut = join(data, 'cut.jpg');
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
  await openFirstSoftPatch(page);
  const before = await strokesInForce();
  const saved = (on: Page, more: number) => on.getByText(new RegExp(`^${before + more} strokes?, saved`));
  await page.waitForTimeout(1000);
  await page.getByRole('option').nth(4).click();
  await page.waitForTimeout(800);
  await scrub(page, 40);
  await expect(saved(page, 1)).toBeVisible();
  await app.kill();
  await scrub(page, 30);
  await expect(page.getByText('server away: 1 kept, trying again')).toBeVisible();
  app = await start('serve', data, 4377);
  await expect(saved(page, 2)).toBeVisible();
  expect(await strokesInForce()).toBe(before + 2);
  await app.kill();
  await scrub(page, 20);
  await expect(page.getByText('server away: 1 kept, trying again')).toBeVisible();
  await page.close();
  app = await start('serve', data, 4377);
  // Whoever opens the merge next sends what was left behind.
  const next = await context.newPage();
  await openFirstSoftPatch(next);
  await expect(saved(next, 3)).toBeVisible();
  expect(await strokesInForce()).toBe(before + 3);
});

test('a server killed while reading and merging takes the work up again', async () => {
  const make = await fetch(`${app.url}/api/jobs`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: '{"name":"Killed"}',
  });
  const { id } = (await make.json()) as { id: string };
  const post = (path: string, body: unknown): Promise<Response> =>
    fetch(`${app.url}/api/jobs/${id}/${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
  const taken = await post('folder', { path: card(), merge: '../merge made elsewhere.tif' });
  expect(((await taken.json()) as { count: number }).count).toBe(11);
  await post('process', {});
  await app.kill();
  app = await start('serve', data, 4377);
  await new Promise((wait) => setTimeout(wait, 5000));
  await app.kill();
  app = await start('serve', data, 4377);
  const done = await until(
    () => ask<{ summary: JobAnswer; pictures: { status: string }[] }>(`/api/jobs/${id}`),
    (j) => Boolean(j.summary.mergeId),
  );
  expect(done.pictures.map((p) => p.status)).toEqual(new Array(11).fill('ready'));
  expect(done.summary.openFindings).toBeGreaterThan(0);
});

test('the command line merges and inspects a folder, and tells bad input in one line', async () => {
  test.setTimeout(200_000);
  const folder = card();
  const report = join(data, 'report.json');
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
  const unreadable = await runCli(['inspect', folder, '--merge', join(data, 'cut.jpg'), '--report', report]);
  expect(unreadable.code).toBe(2);
  expect(unreadable.err.trim()).toMatch(/^blendrak: cut\.jpg: the file ends early \(truncated\)\. Accepted: [^\n]+$/);
  const kind = await runCli(['merge', folder, '--kind', 'tower', '--out', join(data, 'x.tif')]);
  expect(kind.code).toBe(2);
  expect(kind.err).toContain('--kind: there is no kind "tower"');
});
