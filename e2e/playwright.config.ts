import { defineConfig } from '@playwright/test'
import { browserArguments } from '../scripts/browser.js'
import { CHROMIUM } from '../scripts/packages.js'
import { isLong, LONG } from './tier.js'

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './global-setup.ts',
  outputDir: '../test-results',
  // Journeys wait for each other's servers and databases as much as they compute.
  workers: 3,
  fullyParallel: true,
  ...(isLong ? {} : { grepInvert: new RegExp(LONG) }),
  timeout: 120_000,
  expect: { timeout: 10_000 },
  reporter: [['dot'], ['json']],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: CHROMIUM, args: browserArguments },
    trace: 'off',
    locale: 'en-GB',
  },
})
