import { expect } from '@playwright/test'
import { test } from './harbour.ts'

test('what is laid over a chart lies where the chart draws: the ring around the chosen option has its dot inside', async ({
  harbour: page,
}) => {
  await page.keyboard.press('6')
  const picture = page.getByRole('group', { name: /^Cost against the tightest promise/ })
  // The dot is 14 pixels wide with its edge: around its middle there is its colour, and left and above of it, where no line starts, there
  // is not.
  const coloured = () =>
    picture.evaluate((group) => {
      const [canvas, ring] = [group.querySelector('canvas'), group.querySelector<HTMLElement>('.spoken-of')]
      const pen = canvas?.getContext('2d')
      if (!canvas || !ring || !pen) return []
      const ratio = canvas.width / canvas.clientWidth
      const sand = getComputedStyle(document.documentElement).getPropertyValue('--sand').trim()
      const hex = (x: number, y: number) =>
        `#${[...pen.getImageData(Math.floor(x * ratio), Math.floor(y * ratio), 1, 1).data]
          .slice(0, 3)
          .map((v) => v.toString(16).padStart(2, '0'))
          .join('')}`
      return [
        [0, 0],
        [-4, 0],
        [4, 0],
        [0, -4],
        [0, 4],
        [-9, 0],
        [0, -9],
      ].map(([dx, dy]) => hex(parseFloat(ring.style.left) + dx, parseFloat(ring.style.top) + dy) === sand)
    })
  const fits = [true, true, true, true, true, false, false]
  await expect.poll(coloured).toEqual(fits)
  // What the library knows of its points, and might make room for, it knows at the second time of drawing.
  const wide = await picture.locator('canvas').evaluate((canvas) => canvas.clientWidth)
  await page.setViewportSize({ width: 1000, height: 760 })
  await expect.poll(() => picture.locator('canvas').evaluate((canvas) => canvas.clientWidth)).not.toBe(wide)
  await expect.poll(coloured).toEqual(fits)
})
