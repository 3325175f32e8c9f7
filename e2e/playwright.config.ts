// Browser tests over the built application, in Debian's Chromium.
import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  globalSetup: './demo.ts',
  // A machine that is shared may be several times as slow for minutes: what is waited for comes, or the test has failed for long.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  workers: 1,
  fullyParallel: false,
  outputDir: '../test-results/e2e-artifacts',
  reporter: [['list'], ['json', { outputFile: '../test-results/e2e.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
