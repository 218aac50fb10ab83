import { defineConfig } from '@playwright/test'
import { POLITE_BROWSER } from './scripts/browser.mjs'

const PORT = 4381
/** Who times an endpoint has a server that does nothing else. */
const MEASURING = 4382

export default defineConfig({
  testDir: 'e2e',
  // Generous, for machines that are shared: nothing here is about speed.
  timeout: 300_000,
  expect: { timeout: 120_000 },
  retries: process.env.CI ? 1 : 0,
  // One more than the two cores that are usual: each waits for its page now and then.
  workers: 3,
  fullyParallel: true,
  // Who waits for an endpoint begins first: the others work meanwhile.
  projects: [
    { name: 'waits long', testMatch: 'measure.spec.ts', use: { baseURL: `http://127.0.0.1:${MEASURING}` } },
    { name: 'others', testIgnore: 'measure.spec.ts' },
  ],
  reporter: 'list',
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: POLITE_BROWSER,
      // A name that the server is started for below: what comes by it is no secure context.
      args: [
        '--host-resolver-rules=MAP planner.test 127.0.0.1',
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
  webServer: [
    {
      command: `exec sh scripts/polite.sh node .build/server.mjs --port ${PORT} --name planner.test`,
      port: PORT,
      reuseExistingServer: false,
    },
    { command: `exec node .build/server.mjs --port ${MEASURING}`, port: MEASURING, reuseExistingServer: false },
  ],
})
