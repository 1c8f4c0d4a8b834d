import { defineConfig } from '@playwright/test';

const port = 4710;
export const origin = `http://localhost:${port}`;

export default defineConfig({
  testDir: '.',
  workers: 1,
  fullyParallel: false,
  timeout: 120_000,
  expect: { timeout: 15_000 },
  forbidOnly: true,
  reporter: [['line'], ['json', { outputFile: '../.cache/journeys.json' }]],
  outputDir: '../test-results',
  use: {
    baseURL: origin,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    trace: 'retain-on-failure',
    launchOptions: { executablePath: '/usr/bin/chromium', chromiumSandbox: false },
  },
  webServer: {
    command: `node ../scripts/run.mjs --demo --contacts 1500 --fresh --port ${port}`,
    url: `${origin}/api/health`,
    timeout: 180_000,
    reuseExistingServer: process.env['REUSE'] === '1',
    gracefulShutdown: { signal: 'SIGTERM', timeout: 20_000 },
    env: {
      DATA_DIR: '.palabra/journeys',
      OUTSIDE_SMTP_PORT: '4726',
      OUTSIDE_WEB_PORT: '4781',
      OUTSIDE_DELAY: '1200',
      RETURNS_PORT: '4727',
      PACE: '600',
    },
  },
});
