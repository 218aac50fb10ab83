import { expect, test } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { cellsOf, change, choose, commandText, openWith, type PlanFile, settled, verdict } from './support.ts'

const FILE = 'examples/one-configuration.json'
/** Lines of what the command line says of the plan, each as words. */
function said(...args: string[]): string[][] {
  const told = commandText('simulate', FILE, ...args)
  return told
    .replaceAll(/[\u00a0\u202f]/g, ' ')
    .split('\n')
    .map((line) => line.trim().split(/ {2,}/))
}

test('how long each request took, and a load test on paper, are in the page what the command line says', async ({ page }) => {
  await openWith(page, JSON.parse(readFileSync(FILE, 'utf8')) as PlanFile, '/run')
  await page.keyboard.press('5')
  const figures = page.getByRole('region', { name: 'Figures of how long it took' })
  const row = async () => (await cellsOf(figures.locator('tbody tr').first())).slice(-7)
  const spread = said()
    .find(([, measure]) => measure === 'ttft')!
    .slice(2)
  await expect.poll(async () => (await row()).slice(0, 6)).toEqual(spread.slice(0, 6))
  await page.getByRole('radio', { name: 'the whole answer' }).click()
  const whole = said().find(([, measure]) => measure === 'latency')!
  await expect.poll(async () => (await row()).slice(0, 6)).toEqual(whole.slice(2, 8))

  await page.getByText('A load test on paper').click()
  const table = page.getByRole('region', { name: /^Figures of the load test/ })
  const rows = async (n: number) => {
    await expect(table).toHaveCount(n)
    return Promise.all((await table.last().locator('tbody tr').all()).map(cellsOf))
  }
  const told = (...args: string[]) => said(...args).filter((cells) => cells.length === 13 && /^[\d.]+$/.test(cells[0]))
  await expect.poll(() => rows(1)).toEqual(told('--side-by-side'))
  await expect(page.getByText(/From \d+ to \d+ at once it bends: /)).toBeVisible()
  await page.getByRole('button', { name: 'short beside long' }).click()
  await page.getByRole('radio', { name: 'so many a second' }).click()
  await expect.poll(() => rows(2)).toEqual(told('--rates', '--sizes', 'long'))
  await expect(page.getByText(/Up to .+ as many are answered as come/)).toHaveCount(2)
})

test('callers who are far away have their first token so much later, and it is said where a promise is kept', async ({ page }) => {
  await openWith(page, JSON.parse(readFileSync(FILE, 'utf8')) as PlanFile)
  await page.getByRole('button', { name: 'Say how far callers of pilot desk are' }).click()
  await change(page, /^How far callers of pilot desk are/, '250 ms')
  await settled(page)
  await expect(verdict(page)).toContainText(/p95 TTFT at the caller/)
  const [, , , p50] = said().find(([, measure]) => measure === 'ttft')!
  await page.keyboard.press('5')
  const row = page.getByRole('region', { name: 'Measures of the run' }).getByRole('row', { name: /TTFT/ })
  const later = `${(Number.parseFloat(p50) + 500).toFixed(0)} ms`
  await expect.poll(async () => (await cellsOf(row)).slice(3, 4)).toEqual([later])
  await page.keyboard.press('1')
  await choose(page, /^Where the ttft target of pilot desk holds/, 'at the service')
  await settled(page)
  await expect(verdict(page)).toContainText(/p95 TTFT at the service/)
})

test('a model’s size and a machine’s name are enough for the first question, by the keyboard alone, and the command line says the same', async ({
  page,
}) => {
  await page.goto('/one')
  await expect(verdict(page)).toContainText('Rent')
  await page.getByRole('link', { name: 'only a model’s size' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^Billions of parameters/ })).toBeFocused()
  for (const key of ['Enter', '2', '0', 'Enter', 'Tab', 'Tab', 'Enter', 'F', 'e', 'Enter']) await page.keyboard.press(key)
  await expect(page.getByRole('button', { name: /^The machine: Fenland/ })).toBeVisible()
  const machine = ((await page.getByRole('button', { name: /^The machine:/ }).textContent()) ?? '').trim()
  const words = commandText('one', '--model', '20b', '--on', machine, '--prompt', '600', '--answer', '200', '--finds', 'nothing')
  const [, first, last] = /The first token comes after (.+), the last after (.+), one every/.exec(words.replaceAll(/\s/g, ' ')) ?? []
  await expect(page.locator('main')).toContainText(
    new RegExp(`the first token comes after ${first}, the last after ${last}`.replaceAll(' ', '\\s')),
  )
})
