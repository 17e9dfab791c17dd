import { defineConfig } from '@playwright/test'
import { chromiumArgs, chromiumPath, webGlArgs } from './scripts/chromium.mjs'

// Servers of tests make backups where a test asks for them.
process.env.BICHROMA_BACKUP_HOURS ??= '0'

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/globalSetup.ts',
  // Each file has a studio of its own; most of a test is waiting for the bench.
  workers: 2,
  // Generous: a machine that others share can be ten times slower for minutes. Nothing waits longer than it must.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  outputDir: 'test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: chromiumPath(), args: [...chromiumArgs, ...webGlArgs] },
    screenshot: 'only-on-failure',
  },
})
