import { expect } from '@playwright/test'
import { test } from './harbour.ts'
import { change, openWith, settled, smallPlan, verdict } from './support.ts'

test('a model that is sold by tokens is added, tried, and bought once it costs less; nothing of it starts up', async ({ page }) => {
  await openWith(page, smallPlan(), '/fit/tokens')
  await expect(verdict(page)).toContainText('Rent')
  await page.getByRole('button', { name: 'add one that is sold by tokens' }).click()
  await settled(page) // what is said of the search above moves what stands below it
  await page.getByRole('button', { name: /^let the search try it for pilot talk/ }).click()
  await expect(page.getByText('The search tries it for pilot talk')).toBeVisible()
  await settled(page)
  // At a tenth of a cent a request it is dearer than a machine that is busy all day.
  await expect(verdict(page)).toContainText('Rent')
  await change(page, /^hosted model, EUR a million prompt tokens/, '0.2')
  await change(page, /^hosted model, EUR a million answer tokens/, '0.4')
  await settled(page)
  await expect(verdict(page)).toContainText(/Buy\s+hosted model by tokens/)

  await page.keyboard.press('3')
  await expect(page.getByText('Nothing starts up at hosted model')).toBeVisible()
  await page.keyboard.press('5')
  await expect(page.getByText(/^[\d.]+ in service$/)).toBeVisible()
  await expect(page.getByText(/with [\d.]+ side by side/)).toBeVisible()
  await page.keyboard.press('6')
  // What is above it may grow while it is told, and is told only where somebody looks.
  await expect(async () => {
    await page.getByRole('heading', { name: 'Machines, or paid one by one?' }).scrollIntoViewIfNeeded()
    await expect(page.getByText(/hosted model by tokens costs less at every volume/)).toBeVisible({ timeout: 5_000 })
  }).toPass()

  // A guard that is spent before noon turns the plan's own callers away; what it does is said first, and gone when it is taken out.
  await page.keyboard.press('5')
  await page.getByRole('button', { name: 'Guard what pilot talk spends' }).click()
  await change(page, /^Guard of pilot talk, EUR/, '1')
  await settled(page)
  await expect(verdict(page)).toContainText('pilot talk is stopped by its guard')
  await expect(verdict(page)).toContainText(
    /The guard of 1.00\sEUR a day stops it on 1 of 1 days, first from Mon 0\d:\d\d: [\d\s]+ of [\d\s]+ callers/,
  )
  await page.getByRole('button', { name: 'Take out the guard of pilot talk' }).click()
  await settled(page)
  await expect(verdict(page)).toContainText(/Buy\s+hosted model by tokens/)
  await expect(verdict(page)).not.toContainText('guard')
})
