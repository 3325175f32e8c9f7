// Practice as a learner goes: an exercise is made, solved by pointing and naming, answered, and counted. And the log.
import { expect, test } from '@playwright/test';
import AxeBuilder from '@axe-core/playwright';
import { openDemo, type Demo } from './demo';

let demo: Demo;
test.beforeAll(async () => {
  demo = await openDemo(4388);
});
test.afterAll(() => demo.close());

test('an exercise is made in the background, solved, answered and counted', async ({ page }) => {
  await page.goto(`${demo.app.url}/practice`);
  const form = page.getByRole('region', { name: 'New exercise' });
  await form.getByRole('combobox', { name: 'Kind' }).click();
  await page.getByRole('option', { name: 'Bracket' }).click();
  await form.getByRole('button', { name: 'Make an exercise' }).click();
  const exercises = page.getByRole('region', { name: 'Exercises' });
  await expect(exercises).toContainText('being made');
  await exercises.getByRole('link', { name: 'Solve it' }).click({ timeout: 120_000 });
  const picture = page.getByRole('application', { name: 'Picture of the exercise' });
  const panel = page.getByRole('complementary', { name: 'Exercise' });
  await expect(panel).toContainText('Click on what is wrong');
  const box = (await picture.boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.click(box.x + box.width / 3, box.y + box.height / 3);
  const marks = panel.getByRole('list', { name: 'Your marks' });
  await expect(marks.getByRole('listitem')).toHaveCount(2);
  await marks.getByRole('combobox', { name: 'Name of 1' }).click();
  await page.getByRole('option', { name: 'Clipping' }).click();
  await marks.getByRole('button', { name: 'Take mark 2 away' }).click();
  await expect(marks.getByRole('listitem')).toHaveCount(1);
  await panel.getByRole('button', { name: 'That is all: the answer' }).click();
  await expect(panel.getByRole('status')).toContainText(/\d+ of \d+ found, \d+ named rightly/);
  const hidden = await panel.getByRole('list', { name: 'What was hidden' }).locator('b').allTextContents();
  expect(hidden.length).toBeGreaterThan(0);
  await panel.getByRole('link', { name: 'Next exercise' }).click();
  const progress = page.getByRole('table', { name: 'Progress by defect' });
  for (const defect of hidden) await expect(progress).toContainText(defect);
  // It is no job among others.
  const jobs = await demo.ask<{ name: string }[]>('/api/jobs');
  expect(jobs.some((j) => j.name.startsWith('Exercise'))).toBe(false);
});

test('the log answers what goes wrong, leads to the jobs behind, and teaches a plan', async ({ page }) => {
  await page.goto(`${demo.app.url}/log`);
  // Somebody saw a band that no frame shows sharp.
  const polygon = [[200, 200], [320, 200], [320, 260], [200, 260]]; // prettier-ignore
  const status = await page.evaluate(
    async ([address, body]) =>
      (await fetch(address!, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: body! })).status,
    [`/api/merges/${demo.job.mergeId!}/findings`, JSON.stringify({ defect: 'focus-gap', polygon })],
  );
  expect(status).toBe(201);
  await expect(page.getByText(/^Focus stack: most often/)).toBeVisible();
  await page
    .getByRole('button', { name: /^focus stack, / })
    .first()
    .click();
  await expect(page.getByRole('region', { name: 'Jobs behind it' }).getByRole('link').first()).toBeVisible();
  await page.getByRole('tab', { name: 'Lessons' }).click();
  const lessons = page.getByRole('list', { name: 'Lessons' });
  await expect(lessons.getByRole('button', { name: 'Take it' }).first()).toBeVisible();
  await page.goto(`${demo.app.url}/plan`);
  await page.getByRole('button', { name: 'New focus stack' }).click();
  const panel = page.getByRole('region', { name: 'From earlier jobs' });
  await panel.getByText(/^From earlier jobs: \d+ lesson/).click();
  await panel.getByRole('button', { name: 'Take it into this plan' }).first().click();
  await expect(panel).toContainText('This plan has it.');
});

test('log and practice have no accessibility faults', async ({ page }) => {
  for (const place of ['log', 'log?part=lessons', 'log?part=lenses', 'log?part=journal', 'practice']) {
    await page.goto(`${demo.app.url}/${place}`);
    await page.waitForTimeout(800);
    const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
    expect(violations.map((v) => `${place}: ${v.id} at ${v.nodes[0]?.target.join(' ')}`)).toEqual([]);
  }
});
