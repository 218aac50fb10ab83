import { defineConfig } from '@playwright/test'

const PORT = 4381

export default defineConfig({
  testDir: 'e2e',
  timeout: 150_000,
  expect: { timeout: 90_000 },
  workers: 1,
  reporter: 'list',
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    },
  },
  webServer: { command: `node .build/server.mjs --port ${PORT}`, port: PORT, reuseExistingServer: false },
})
