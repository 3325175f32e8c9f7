// The server among neighbours: many tabs, two people at one merge, a page of another site, a second start.
import { expect, test, type Page } from '@playwright/test';
import { createServer, type Server } from 'node:http';
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { removeFolder, runCli, start, temporaryFolder } from './application';
import { openDemo, type Demo, type DemoJob } from './demo';

const PORT = 4391;
let demo: Demo;
/** The job with the bracket. */
let job: DemoJob;

test.beforeAll(async () => {
  demo = await openDemo(PORT);
  job = (await demo.ask<DemoJob[]>('/api/jobs')).find((j) => j.name.startsWith('Lamp room'))!;
});
test.afterAll(() => demo.close());

test('twenty tabs are all answered, and all hear what one of them does', async ({ context }) => {
  const tabs: Page[] = [];
  for (let k = 0; k < 20; k++) {
    const tab = await context.newPage();
    await tab.goto(`${demo.app.url}/jobs`);
    await expect(tab.getByText('Lamp room with bright windows').first()).toBeVisible({ timeout: 30_000 });
    tabs.push(tab);
  }
  await tabs[19]!.getByLabel('Name of the new job').fill('Seen by all');
  await tabs[19]!.getByRole('button', { name: 'New job' }).click();
  for (const tab of tabs.slice(0, 19)) await expect(tab.getByText('Seen by all').first()).toBeVisible();
  for (const tab of tabs) await tab.close();
});

test('of two people at one merge each is told of the other’s strokes, and sees them', async ({ context }) => {
  const open = async (): Promise<Page> => {
    const page = await context.newPage();
    await page.goto(`${demo.app.url}/jobs/${job.id}/bench`);
    await expect(page.getByText('0 strokes, saved')).toBeVisible();
    return page;
  };
  const [one, two] = [await open(), await open()];
  await one.bringToFront();
  await one.waitForTimeout(1000);
  const box = (await one.getByRole('application', { name: 'Picture' }).boundingBox())!;
  await one.mouse.move(box.x + 200, box.y + 120);
  await one.getByRole('option').nth(1).click();
  await one.waitForTimeout(500);
  await one.mouse.move(box.x + 200, box.y + 150);
  await one.mouse.down();
  await one.mouse.move(box.x + 260, box.y + 150, { steps: 4 });
  await one.mouse.up();
  await expect(one.getByText('1 stroke, saved')).toBeVisible();
  await expect(two.getByText('1 stroke, saved')).toBeVisible();
  await expect(two.getByText(/^In another window: A stroke with .* was painted\.$/)).toBeVisible();
  await expect(one.getByText(/^In another window/)).toHaveCount(0);
  // Both are pages of one person: each may take back what was done on the other.
  await two.getByRole('button', { name: 'Undo' }).click();
  await expect(one.getByText(/^In another window: A stroke with .* was taken back\.$/)).toBeVisible();
  await one.getByRole('button', { name: 'Redo' }).click();
  await expect(two.getByText('1 stroke, saved')).toBeVisible();
});

test('what another person has painted is seen, and not theirs to take back', async ({ browser }) => {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto(`${demo.app.url}/jobs/${job.id}/bench`);
  await expect(page.getByText('1 stroke, saved')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await context.close();
});

test.describe('a page of another site', () => {
  let foreign: Server;
  let address = '';
  test.beforeAll(async () => {
    foreign = createServer((_request, response) => response.setHeader('Content-Type', 'text/html').end('<p>elsewhere'));
    await new Promise<void>((done) => foreign.listen(0, '127.0.0.1', done));
    const bound = foreign.address();
    address = `http://127.0.0.1:${typeof bound === 'object' && bound ? bound.port : 0}`;
  });
  test.afterAll(() => void foreign.close());

  test('can neither write nor read, in any of the ways a browser has', async ({ page }) => {
    // Another job may be under way meanwhile: which jobs there are is what counts.
    const jobs = async () => (await demo.ask<DemoJob[]>('/api/jobs')).map((j) => [j.id, j.name]);
    const before = await jobs();
    const { revision } = await demo.ask<{ revision: number }>(`/api/merges/${job.mergeId!}/operations`);
    await page.goto(address);
    const tried = await page.evaluate(
      async ({ url, jobId, mergeId }) => {
        const how = async (init: RequestInit, path: string): Promise<string> => {
          try {
            const answer = await fetch(url + path, init);
            return answer.type === 'opaque' ? 'sent' : `answered ${answer.status}`;
          } catch {
            return 'refused';
          }
        };
        const form = new FormData();
        form.append('file', new File(['x'], 'planted.jpg'));
        const asJson = { 'Content-Type': 'application/json' };
        const results: Record<string, string> = {};
        results['makes a job'] = await how(
          { method: 'POST', mode: 'no-cors', body: '{"name":"Planted"}' },
          '/api/jobs',
        );
        results['makes a job as JSON'] = await how(
          { method: 'POST', headers: asJson, body: '{"name":"P"}' },
          '/api/jobs',
        );
        results['uploads'] = await how({ method: 'POST', mode: 'no-cors', body: form }, `/api/jobs/${jobId}/files`);
        results['processes'] = await how({ method: 'POST', mode: 'no-cors' }, `/api/jobs/${jobId}/process`);
        results['undoes'] = await how({ method: 'POST', mode: 'no-cors' }, `/api/merges/${mergeId}/changes`);
        results['deletes'] = await how({ method: 'DELETE' }, `/api/jobs/${jobId}`);
        results['reads jobs'] = await how({}, '/api/jobs');
        results['reads tiles'] = await how({}, `/iiif/r-${mergeId}/full/!96,96/0/default.jpg`);
        results['shows a tile'] = await new Promise((done) => {
          const image = new Image();
          image.onload = () => done('shown');
          image.onerror = () => done('refused');
          image.src = `${url}/iiif/r-${mergeId}/full/!96,96/0/default.jpg?v=0`;
        });
        results['listens'] = await new Promise((done) => {
          const stream = new EventSource(`${url}/api/events`);
          stream.onopen = () => done('heard');
          stream.onerror = () => done('refused');
        });
        return results;
      },
      { url: demo.app.url, jobId: job.id, mergeId: job.mergeId! },
    );
    // What a page sends without looking at the answer reaches the server; it is refused there.
    expect(Object.entries(tried).filter(([, how]) => !['refused', 'sent'].includes(how))).toEqual([]);
    for (const what of ['reads jobs', 'reads tiles', 'shows a tile', 'listens', 'deletes', 'makes a job as JSON'])
      expect([what, tried[what]]).toEqual([what, 'refused']);
    expect(await jobs()).toEqual(before);
    expect((await demo.ask<{ revision: number }>(`/api/merges/${job.mergeId!}/operations`)).revision).toBe(revision);
    const { pictures } = await demo.ask<{ pictures: { fileName: string }[] }>(`/api/jobs/${job.id}`);
    expect(pictures.map((p) => p.fileName)).not.toContain('planted.jpg');
  });

  test('may link to the interface', async ({ page }) => {
    await page.goto(address);
    await page.evaluate(
      (url) => document.body.insertAdjacentHTML('beforeend', `<a href="${url}/jobs">there</a>`),
      demo.app.url,
    );
    await page.getByRole('link', { name: 'there' }).click();
    await expect(page.getByText('Lamp room with bright windows').first()).toBeVisible();
  });
});

test('a second start on the same folder or port is refused in one line, and changes nothing', async () => {
  const folder = await runCli(['serve', '--data', demo.data, '--port', String(PORT + 1)]);
  expect(folder.code).toBe(2);
  expect(folder.err).toMatch(
    new RegExp(
      `^blendrak: .*another Blendrak works in this data folder \\(process \\d+, since .*, at ${demo.app.url}\\)`,
    ),
  );
  const photographs = temporaryFolder();
  mkdirSync(join(photographs, 'originals'));
  writeFileSync(join(photographs, 'originals', 'DSC_0001.jpg'), 'a picture');
  const port = await runCli(['serve', '--data', photographs, '--port', String(PORT)]);
  expect([port.code, port.err.trim()]).toEqual([2, expect.stringContaining(`port ${PORT} is in use`)]);
  const strange = await runCli(['serve', '--data', photographs, '--port', String(PORT + 1)]);
  expect([strange.code, strange.err]).toEqual([
    2,
    expect.stringContaining('the folder holds other things (originals)'),
  ]);
  expect(readdirSync(photographs, { recursive: true }).sort()).toEqual(['originals', 'originals/DSC_0001.jpg']);
  removeFolder(photographs);
});

test('beyond this machine it answers with the token only', async ({ page }) => {
  const elsewhere = temporaryFolder();
  const open = await start('serve', elsewhere, PORT + 2, ['--host', '0.0.0.0']);
  try {
    expect(open.url).toMatch(/\?token=[\w-]{20,}$/);
    const plain = open.url.replace(/\/\?.*/, '');
    expect((await fetch(`${plain}/api/jobs`)).status).toBe(401);
    await page.goto(open.url);
    await expect(page.getByRole('button', { name: 'New job' })).toBeVisible();
    expect(page.url()).toBe(`${plain}/jobs`);
  } finally {
    await open.stop();
    removeFolder(elsewhere);
  }
});
