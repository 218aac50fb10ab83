import { AxeBuilder } from '@axe-core/playwright'
import { expect, test } from '@playwright/test'
import { change, settled, verdict } from './support.ts'

test('a plan is begun from a few figures by keyboard, and answered', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  await page.keyboard.press('n')
  await page.getByRole('button', { name: 'pictures in denoising steps' }).press('Enter')
  const words = page.getByTestId('begin-words')
  await expect(words).toContainText('Each takes 28 denoising steps. The whole answer is promised within 30 s.')
  await page.getByRole('button', { name: /^Requests a second at the busiest/ }).press('Enter')
  await page.keyboard.type('0.1')
  await page.keyboard.press('Enter')
  await expect(words).toContainText('At the busiest 0.1')
  await page.getByText(/things that were not asked for/).press('Enter')
  await expect(page.getByText('500 requests may wait, more are refused')).toBeVisible()
  await page.getByRole('button', { name: 'begin this plan' }).press('Enter')
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Pictures in denoising steps')
  await settled(page)
  await expect(verdict(page)).toContainText('Rent')
  await expect(page.getByRole('complementary', { name: 'Plan' })).toContainText('wishes for a picture sends up to 0.1')
})

test('a beginning that is left changes nothing', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  await page.getByRole('button', { name: 'Plans and files' }).click()
  await page.getByRole('menuitem', { name: 'Begin a plan …' }).click()
  const words = page.getByTestId('begin-words')
  await expect(words).toContainText('The first token is promised within 1 s')
  const { violations } = await new AxeBuilder({ page: page as never }) // the package brings its own copy of the same types
    .options({ resultTypes: ['violations'] })
    .setLegacyMode()
    .include('[role=dialog]')
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze()
  expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}`)).toEqual([])
  await change(page, /^What is promised/, '700 ms')
  await page.keyboard.press('Escape')
  await expect(words).toHaveCount(0)
  // What was typed is there again.
  await page.keyboard.press('n')
  await expect(words).toContainText('The first token is promised within 700 ms')
  await page.getByRole('button', { name: 'close' }).click()
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Skerry Sound Harbour Office')
})
