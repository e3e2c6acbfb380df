import { defineConfig } from '@playwright/test'
import { CHROMIUM } from '../scripts/packages.js'

/** What Debian's Chromium needs to run as root, without a screen and without looking for a network. */
export const browserArguments = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-dev-shm-usage',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--no-first-run',
  '--no-default-browser-check',
  '--disable-domain-reliability',
]

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './global-setup.ts',
  outputDir: '../test-results',
  // Journeys wait for each other's servers and databases as much as they compute.
  workers: 3,
  fullyParallel: true,
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
