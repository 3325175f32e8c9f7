import { chromium } from 'playwright';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic'],
});
const page = await b.newPage({ viewport: { width: 1280, height: 800 } });
const jobs = await (await fetch('http://localhost:4998/api/jobs')).json();
for (const [kind, path, out] of JSON.parse(process.argv[2])) {
  const job = jobs.find((j) => j.kind === kind);
  await page.goto(`http://localhost:4998/jobs/${job.id}/${path}`);
  await page.waitForTimeout(2500);
  await page.screenshot({ path: out });
}
await b.close();
