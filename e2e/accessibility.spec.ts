import { expect } from '@playwright/test'
import { violationsOf } from './accessible.ts'
import { test } from './harbour.ts'
import { goTo, lookAtMadeUp } from './support.ts'

// By parts, so that what takes long is shared out; the sheet of machines has most to look through.
for (const paths of [
  ['one', 'one session', 'only a model’s size', 'load', 'fit', 'models'],
  ['machines'],
  ['start', 'measure', 'run', 'answer', 'compare'],
]) {
  test(`no accessibility violation in ${paths.join(', ')}, by day or at dusk`, async ({ harbour: page }) => {
    // The way to the sheet is in Fit.
    if (paths[0] === 'machines') await goTo(page, 'fit')
    for (const path of paths) {
      await goTo(page, path)
      if (path === 'load') await page.getByRole('button', { name: 'every field of pilot desk' }).click()
      if (path === 'measure') await lookAtMadeUp(page)
      // What is opened when it is wanted.
      if (path === 'run')
        for (const [words, last] of [
          ['A load test on paper', 'counted'],
          ['How machines are used', 'mean while there'],
        ]) {
          await page.getByText(words).click()
          await expect(page.getByRole('columnheader', { name: last })).toBeVisible()
        }
      for (const theme of ['day', 'dusk']) {
        if ((await page.locator('html').getAttribute('data-theme')) !== theme) await page.keyboard.press('t')
        await expect(page.locator('html')).toHaveAttribute('data-theme', theme)
        // What is around the views is the same with each.
        const violations = await violationsOf(page, {
          within: path === 'load' ? undefined : 'main',
          rules: theme === 'dusk' ? 'contrast' : 'standard',
        })
        expect(violations, `${path} at ${theme}`).toEqual([])
      }
    }
  })
}
