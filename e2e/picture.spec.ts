// The picture on the bench: looked at and painted on by pointer, keys and fingers.
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { openDemo, openFirstSoftPatch, scrub, type Demo } from './demo';

let demo: Demo;

test.beforeAll(async () => {
  demo = await openDemo(4385);
});
test.afterAll(() => demo.close());

test('a stroke shows at once under the brush, before the server has answered', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
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

test('a peek returns to what was looked at, and keys work whatever has the focus', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
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
  await openFirstSoftPatch(page, demo);
  await page.keyboard.press('d');
  const before = await demo.strokesInForce();
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
  await expect.poll(demo.strokesInForce).toBe(before + 1);
  await page.keyboard.press('u');
  await expect.poll(demo.strokesInForce).toBe(before);
});

test('a stroke on its way stays where it was painted when the picture moves; one given up leaves nothing', async ({
  page,
}) => {
  await openFirstSoftPatch(page, demo);
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
  await openFirstSoftPatch(page, demo);
  const before = await demo.strokesInForce();
  await page.keyboard.press('d');
  await page.waitForTimeout(1000);
  await page.getByRole('application', { name: 'Picture' }).focus();
  for (const key of ['ArrowRight', 'ArrowDown', 'Space', 'ArrowRight', 'ArrowRight', 'Shift+ArrowDown', 'Space'])
    await page.keyboard.press(key);
  await expect.poll(demo.strokesInForce).toBe(before + 1);
  await page.keyboard.press('u');
  await expect.poll(demo.strokesInForce).toBe(before);
  // With nothing in hand the same key traces the place.
  await page.keyboard.press('Escape');
  const traced = page.waitForRequest((request) => request.url().includes('/probe?'));
  for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Space');
  await traced;
});

test('a change that comes in mid-stroke takes nothing of the stroke away', async ({ page }) => {
  await openFirstSoftPatch(page, demo);
  const before = await demo.strokesInForce();
  await page.keyboard.press('d');
  await page.waitForTimeout(1000);
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  await page.mouse.move(box.x + 300, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(box.x + 340, box.y + 200, { steps: 4 });
  const shape = { kind: 'stroke', points: [[40, 40]], sizePx: 20, hardness: 1, strength: 1 };
  const change = { kind: 'add', operation: { kind: 'paint', donor: 0, shape } };
  const answer = await fetch(`${demo.app.url}/api/merges/${demo.job.mergeId!}/changes`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', 'X-Blendrak-Person': 'somebody-else' },
    body: JSON.stringify({ id: 'in-mid-stroke', change }),
  });
  expect(answer.status).toBe(201);
  await expect(page.getByText(`${before + 1} stroke`, { exact: false })).toBeVisible();
  await page.mouse.move(box.x + 380, box.y + 200, { steps: 4 });
  await page.mouse.up();
  await expect.poll(demo.strokesInForce).toBe(before + 2);
  // Undo takes back one's own, not what came meanwhile.
  await page.keyboard.press('u');
  await expect.poll(demo.strokesInForce).toBe(before + 1);
  const { changed } = await demo.ask<{ changed: { id: string }[] }>(`/api/merges/${demo.job.mergeId!}/operations`);
  expect(changed.map((o) => o.id)).toContain('in-mid-stroke');
});

test('parts of the picture that could not be had come once the server is back', async ({ page }) => {
  await page.route('**/iiif/r-**', (route) => route.abort());
  await page.goto(`${demo.app.url}/jobs/${demo.job.id}/bench`);
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
  await openFirstSoftPatch(page, demo);
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
  await openFirstSoftPatch(page, demo);
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  expect((box.width * box.height) / (1280 * 800)).toBeGreaterThan(0.55);
  await page.waitForTimeout(1000);
  const asked: string[] = [];
  page.on('request', (request) => asked.push(new URL(request.url()).pathname));
  await page.mouse.move(box.x + 100, box.y + 100);
  await page.mouse.move(box.x + 300, box.y + 200, { steps: 5 });
  await page.waitForTimeout(1000);
  expect(asked).toEqual([`/api/merges/${demo.job.mergeId!}/probe`]);
});

test('on a tablet fingers move and pinch the picture, tap to trace, and paint with something in hand', async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 1024, height: 768 }, hasTouch: true });
  const page = await context.newPage();
  await page.goto(`${demo.app.url}/jobs/${demo.job.id}/bench`);
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
  const before = await demo.strokesInForce();
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
  expect(await demo.strokesInForce()).toBe(before);
  await touch('touchStart', [x, y]);
  for (let k = 1; k <= 5; k++) await touch('touchMove', [x + 8 * k, y + 4 * k]);
  await touch('touchEnd');
  await expect.poll(demo.strokesInForce).toBe(before + 1);
  await page.keyboard.press('u');
  await expect.poll(demo.strokesInForce).toBe(before);
  await context.close();
});
