import { expect, test } from '@playwright/test'
import { verdict } from './support.ts'

test('what the server does not give any more is said, what was dropped is taken in, and it comes once the server is back', async ({
  page,
}) => {
  const gone = /\/assets\/(LoadPage|AppBegin)-/
  await page.route(gone, (route) => route.abort())
  const fetchedAhead = page.waitForEvent('requestfailed', (request) => request.url().includes('LoadPage'))
  await page.goto('/answer')
  await expect(verdict(page)).toContainText('Rent')
  const said = page.getByRole('status').filter({ hasText: 'could not be fetched' })
  await fetchedAhead
  await expect(said).toHaveCount(0) // nobody has asked for it yet

  await page.keyboard.press('n')
  await expect(said).toContainText('A part of the page could not be fetched')
  const lines = Array.from({ length: 100 }, (_, i) => `${1_803_891_600 + i},${300 + i},${40 + (i % 9)}`)
  await page
    .getByLabel(/^Open a plan, a log/)
    .setInputFiles({ name: 'monday.csv', mimeType: 'text/csv', buffer: Buffer.from(['time,input,output', ...lines].join('\n')) })
  await expect(said).toContainText('“Load” could not be fetched: the server of this page does not answer')
  expect(new URL(page.url()).pathname).toBe('/answer')

  await page.unroute(gone)
  await page.keyboard.press('1')
  await expect(page.getByRole('region', { name: 'Request log' })).toContainText('monday.csv: 100 requests')
  await expect(said).toHaveCount(0)
  await page.keyboard.press('n')
  await expect(page.getByRole('heading', { name: 'Begin a plan' })).toBeVisible()
})
