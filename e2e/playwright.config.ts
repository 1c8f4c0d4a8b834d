import { defineConfig } from '@playwright/test';
import { browser, world, worldOf, WORKERS } from './worlds.js';

export default defineConfig({
  testDir: '.',
  workers: WORKERS,
  fullyParallel: false,
  // Two browsers on two busy processors: a press can get lost. What needs its second try is named at the end.
  retries: 1,
  timeout: 120_000,
  expect: { timeout: 15_000 },
  forbidOnly: true,
  reporter: [['line'], ['json', { outputFile: '../.cache/journeys.json' }]],
  outputDir: '../test-results',
  use: {
    baseURL: world.origin,
    actionTimeout: 20_000,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    // Most do not wait for what fades in and out; the journeys by hand and by keys see it move.
    contextOptions: { reducedMotion: 'reduce' },
    // A trace of everything costs a fifth of the time; a failure shows its picture and what was on the page.
    trace: process.env['TRACE'] === 'yes' ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    launchOptions: { executablePath: browser, chromiumSandbox: false },
  },
  webServer: Array.from({ length: WORKERS }, (_, worker) => {
    const { port, origin, outsideWeb, outsideSmtp, returns, directory } = worldOf(worker);
    return {
      command: `node ../scripts/run.mjs --demo --contacts 1500 --fresh --port ${port}`,
      url: `${origin}/api/health`,
      timeout: 180_000,
      reuseExistingServer: process.env['REUSE'] === '1',
      gracefulShutdown: { signal: 'SIGTERM' as const, timeout: 20_000 },
      env: {
        DATA_DIR: directory,
        OUTSIDE_SMTP_PORT: String(outsideSmtp),
        OUTSIDE_WEB_PORT: String(outsideWeb),
        OUTSIDE_DELAY: '1200',
        RETURNS_PORT: String(returns),
        PACE: '600',
      },
    };
  }),
});
