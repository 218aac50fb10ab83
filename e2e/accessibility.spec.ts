import { AxeBuilder } from '@axe-core/playwright'
import { expect } from '@playwright/test'
import { test } from './harbour.ts'
import { goTo, lookAtMadeUp } from './support.ts'

// By parts, so that what takes long is shared out; the sheet of machines has most to look through.
for (const paths of [
  ['one', 'one session', 'only a model’s size', 'load', 'fit', 'models'],
  ['machines'],
  ['start', 'measure', 'run', 'answer'],
]) {
  test(`no accessibility violation in ${paths.join(', ')}, by day or at dusk`, async ({ harbour: page }) => {
    // Without frames in the page, the one call that names only what is wrong: naming every element takes most of the time.
    const looksOf = () =>
      new AxeBuilder({ page: page as never /* the package brings its own copy of the same types */ })
        .options({ resultTypes: ['violations'] })
        .setLegacyMode()
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
        // Of all that is looked at, a theme changes the contrast only.
        const axe =
          theme === 'day'
            ? looksOf().withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
            : looksOf().withRules(['color-contrast'])
        // What is around the views is the same with each.
        if (path !== 'load') axe.include('main')
        const { violations } = await axe.analyze()
        expect(violations.map((v) => `${path} at ${theme} ${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}`)).toEqual([])
      }
    }
  })
}
