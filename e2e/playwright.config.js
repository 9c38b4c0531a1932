import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: 'browser',
  globalSetup: './setup.js',
  outputDir: 'test-results',
  workers: 2,
  fullyParallel: true,
  retries: 1, // a shared machine stalls for seconds now and then; what passed only then is listed as flaky
  reporter: [['list']],
  timeout: 60_000,
  expect: { timeout: 15_000 }, // other work on the machine makes pages wait, it does not make them wrong
  use: {
    actionTimeout: 30_000, // a control that is not there fails its test soon, not at the test's end
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking',
        '--disable-component-update', '--disable-sync'],
    },
  },
});
