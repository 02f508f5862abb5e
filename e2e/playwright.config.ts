import { defineConfig } from '@playwright/test'
import { chromiumFile } from '../tools/chromium.mjs'

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './global-setup.ts',
  outputDir: '../test-results',
  workers: 1,
  retries: 0,
  // Limits that a machine ten times slower keeps: what waits, waits for a condition.
  timeout: 900_000,
  expect: { timeout: 60_000 },
  forbidOnly: true,
  fullyParallel: false,
  reporter: [['list'], ['json', { outputFile: process.env.RESULT ?? '../.results/browser.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Dublin',
    actionTimeout: 100_000,
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: chromiumFile(),
      // As on most desks: a bar to scroll by takes its room beside the page.
      ignoreDefaultArgs: ['--hide-scrollbars'],
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        // A page of a test lives for seconds: what is compiled for speed would never earn its price (a fifth of the processors' time).
        '--js-flags=--no-opt --no-maglev',
      ],
    },
  },
})
