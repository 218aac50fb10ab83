import { expect } from '@playwright/test'
import { test } from './harbour.ts'
import { change, settled, verdict } from './support.ts'

test('runs are pinned, compared over the same requests, and taken apart one change at a time', async ({ harbour: page }) => {
  await page.keyboard.press('7')
  await expect(page.getByText('The same requests for all.')).toBeVisible()
  const figures = page.getByRole('region', { name: 'The comparison in figures' })
  // Of itself the chosen one stands beside the next best.
  await expect(figures.getByRole('columnheader')).toHaveCount(3)
  await page.locator('main select').selectOption({ index: 1 })
  await expect(figures.getByRole('columnheader')).toHaveCount(4)
  await expect(figures.getByText(/^[+−][\d.]+\s%$|×$/).first()).toBeVisible()
  await expect(page.getByText(/From A to B \d things? change/)).toBeVisible()
  await expect(page.getByText(/A as it is/)).toBeVisible()
  const time = page.getByRole('slider', { name: 'Time under the cursor' })
  const before = await time.getAttribute('aria-valuetext')
  await time.focus()
  await page.keyboard.press('Control+ArrowRight')
  await expect(time).not.toHaveAttribute('aria-valuetext', before ?? '')
  await page.getByRole('button', { name: 'make it the reference' }).first().click()
  await expect(figures.getByText('B, the reference')).toBeVisible()
  // What is pinned is still there after a reload, and goes when it is unpinned.
  await page.reload()
  await expect(figures.getByRole('columnheader')).toHaveCount(4)
  await page.getByRole('button', { name: 'Unpin C' }).click()
  await expect(figures.getByRole('columnheader')).toHaveCount(3)
})

test('money: a budget is a promise too, a balance runs out on a day, and the ledger adds up by service', async ({ harbour: page }) => {
  await page.keyboard.press('6')
  await page.getByRole('button', { name: 'set a budget' }).click()
  await change(page, /^Budget a month/, '100')
  await settled(page)
  await expect(verdict(page)).toContainText(/Rent.* a month, [\d\s.]+EUR over the budget/)
  await expect(page.getByText(/The balance of 12\s000\sEUR lasts [\d.]+ days and is spent on 2027-\d\d-\d\d/)).toBeVisible()
  await page.getByRole('heading', { name: 'Where a month’s money goes' }).scrollIntoViewIfNeeded()
  await expect(page.getByRole('row', { name: /talk/ }).filter({ hasText: 'serving' })).toBeVisible()
  const through = page.getByRole('group', { name: /through time; arrow keys walk through it/ })
  await through.focus()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByText(/: (starting up|serving) [\d.]+\sEUR.* an hour/)).toBeVisible()
  // Views scroll within the page: nothing in them makes the page itself longer than the window.
  const beyond = await page.evaluate(() => document.documentElement.scrollHeight - window.innerHeight)
  expect(beyond).toBeLessThan(10)
})
