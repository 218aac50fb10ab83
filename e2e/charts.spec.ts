import { expect, test } from '@playwright/test'
import { openWith, smallPlan } from './support.ts'

test('what is laid over a chart lies where the chart draws: the ring around the chosen option has its dot inside', async ({ page }) => {
  await openWith(page, smallPlan(), '/answer')
  const picture = page.getByRole('group', { name: /^Cost against the tightest promise/ })
  await expect(picture.locator('.spoken-of')).toBeVisible()
  const middle = await picture.locator('.spoken-of').evaluate((ring) => ({ x: parseFloat((ring as HTMLElement).style.left), y: parseFloat((ring as HTMLElement).style.top) }))
  // The dot is 14 pixels wide with its edge: around its middle there is its colour, and left and above of it, where no line starts, there is not.
  await expect.poll(() => picture.locator('canvas').evaluate((canvas, { x, y }) => {
    const pen = (canvas as HTMLCanvasElement).getContext('2d')
    const ratio = (canvas as HTMLCanvasElement).width / (canvas as HTMLCanvasElement).clientWidth
    const sand = getComputedStyle(document.documentElement).getPropertyValue('--sand').trim()
    const hex = (px: number, py: number) => `#${[...(pen?.getImageData(Math.floor(px * ratio), Math.floor(py * ratio), 1, 1).data ?? [])].slice(0, 3).map((v) => v.toString(16).padStart(2, '0')).join('')}`
    return [[0, 0], [-4, 0], [4, 0], [0, -4], [0, 4], [-9, 0], [0, -9]].map(([dx, dy]) => hex(x + dx, y + dy) === sand)
  }, middle)).toEqual([true, true, true, true, true, false, false])
})
