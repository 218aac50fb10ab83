import { expect, test } from '@playwright/test'

const MOST_BYTES = 200_000

test('the scripts that a visitor loads before the first view is there are less than 200 kB, compressed', async ({ request }) => {
  const page = await (await request.get('/')).text()
  const files = [...page.matchAll(/(?:src|href)="(\/assets\/[^"]+\.(?:js|css))"/g)].map((m) => m[1])
  expect(files.length).toBeGreaterThan(5)
  let bytes = 0
  for (const file of files) {
    const headers = (await request.head(file, { headers: { 'accept-encoding': 'br' } })).headers()
    expect(headers['content-encoding'] ?? 'none', file).toMatch(/^br$|^none$/)
    bytes += Number(headers['content-length'])
  }
  expect(bytes).toBeGreaterThan(100_000)
  expect(bytes).toBeLessThan(MOST_BYTES)
})
