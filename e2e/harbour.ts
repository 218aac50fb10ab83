import { expect, test as base, type BrowserContext, type Page } from '@playwright/test'
import { kept, openWith, settled, smallPlan } from './support.ts'

type KeptState = Awaited<ReturnType<BrowserContext['storageState']>>

/**
 * Tests that begin where somebody has been before: the small harbour is open and answered, and both are kept. Each worker opens and answers
 * it once; every test has what was kept then, in a window of its own.
 */
export const test = base.extend<{ harbour: Page }, { keptHarbour: KeptState }>({
  keptHarbour: [
    async ({ browser }, use) => {
      const before = await browser.newContext()
      const page = await before.newPage()
      await openWith(page, smallPlan())
      await expect.poll(async () => JSON.stringify(await kept(page, 'answers'))).toContain('Small harbour')
      const state = await before.storageState({ indexedDB: true })
      await before.close()
      await use(state)
    },
    { scope: 'worker', timeout: 300_000 },
  ],
  harbour: async ({ browser, keptHarbour }, use) => {
    const window = await browser.newContext({ storageState: keptHarbour })
    const page = await window.newPage()
    await page.goto('/load')
    await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Small harbour')
    await settled(page)
    await use(page)
    await window.close()
  },
})
