import { expect, test } from '@playwright/test'
import { openWith, smallPlan } from './support.ts'

test('what is laid over a chart lies where the chart draws: the ring around the chosen option has its dot inside', async ({ page }) => {
  await openWith(page, smallPlan(), '/answer')
  const picture = page.getByRole('group', { name: /^Cost against the tightest promise/ })
  await expect(picture.locator('.spoken-of')).toBeVisible()
  const middle = await picture.locator('.spoken-of').evaluate((ring) => ({ x: (ring as HTMLElement).offsetLeft, y: (ring as HTMLElement).offsetTop }))
  // The dot is 14 pixels wide: all around its middle there is its colour, where it lies right.
  await expect.poll(() => picture.locator('canvas').evaluate((canvas, { x, y }) => {
    const pen = (canvas as HTMLCanvasElement).getContext('2d')
    const ratio = (canvas as HTMLCanvasElement).width / (canvas as HTMLCanvasElement).clientWidth
    const sand = getComputedStyle(document.documentElement).getPropertyValue('--sand').trim()
    const hex = (px: number, py: number) => `#${[...(pen?.getImageData(px * ratio, py * ratio, 1, 1).data ?? [])].slice(0, 3).map((v) => v.toString(16).padStart(2, '0')).join('')}`
    return [[0, 0], [-5, 0], [5, 0], [0, 5]].map(([dx, dy]) => hex(x + dx, y + dy) === sand)
  }, middle)).toEqual([true, true, true, true])
})
