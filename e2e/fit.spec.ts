import { expect, type Page } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { test } from './harbour.ts'
import { drop, openWith, settled, smallPlan, verdict } from './support.ts'

const example = (name: string) => readFileSync(`examples/${name}`, 'utf8')
const filter = (page: Page, words: string) => page.getByRole('searchbox', { name: 'Show rows' }).fill(words)

test('a remedy is one click, mends the row, and shows what the answer says then; undo takes it back', async ({ page }) => {
  const plan = smallPlan()
  plan.services[0].search = { ...plan.services[0].search, machines: ['Northquay pebble'], devices: [1], sequences: [16] }
  plan.services[0].limits = { ...plan.services[0].limits, contextTokens: 32_000 }
  await openWith(page, {
    ...plan,
    assumptions: { ...(plan as unknown as { assumptions: object }).assumptions, memoryShare: 0.85 },
  } as typeof plan)
  await page.keyboard.press('2')
  await filter(page, 'pebble 8-bit north')
  const row = page.getByRole('row', { name: /Northquay pebble/ })
  await expect(row).toContainText(/one request may have 32.000/)
  await row.getByRole('button', { name: /of the memory for the server/ }).click()
  await expect(row).not.toContainText('one request may have')
  await settled(page)
  await expect(verdict(page)).toContainText('Northquay pebble')
  await page.getByRole('button', { name: 'undo' }).click()
  await expect(row).toContainText(/one request may have 32.000/)
})

test('what is pulled on the picture moves the room, by pointer and by key, with the former edge behind', async ({ harbour: page }) => {
  await page.keyboard.press('2')
  const words = page.getByText(/^\s*Room for [\d\s\u202f]+ tokens/)
  const before = await words.innerText()
  const share = page.getByRole('slider', { name: 'Share of the memory given to the server' })
  await share.scrollIntoViewIfNeeded()
  await share.focus()
  await page.keyboard.press('ArrowDown')
  await expect(words).not.toHaveText(before)
  await expect(page.getByRole('button', { name: /^Share of the memory given to the server: 89/ })).toBeVisible()
  const context = page.getByRole('slider', { name: 'Longest request, tokens' })
  await settled(page) // the words above may take another line until then
  const point = page.locator('circle.cursor-move')
  const at = await point.boundingBox()
  if (!at) throw new Error('the ring has no place')
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2)
  await page.mouse.down()
  await page.mouse.move(at.x - 60, at.y + 70, { steps: 6 })
  await expect(context).not.toHaveAttribute('aria-valuenow', '32768')
  await page.mouse.up()
  await expect.poll(async () => Number(await context.getAttribute('aria-valuenow'))).toBeLessThan(20_000)
  await settled(page)
})

test('two rows are compared, and each cause gets its multiple', async ({ harbour: page }) => {
  await page.keyboard.press('2')
  await filter(page, 'Northquay ledge')
  const rows = page.locator('tr.fit-row')
  await rows.nth(0).focus()
  await page.keyboard.press('p')
  await page.keyboard.press('ArrowDown')
  const why = page.getByRole('region', { name: 'What causes the difference' })
  await expect(why).toContainText(/weight bits.*arithmetic bits.*differ/)
  await expect(why.getByText(/weight bits × 0\.\d/).first()).toBeVisible()
  await page.getByText(/^Where the figures of Northquay ledge/).click()
  await expect(page.getByText('Harbour office trial of February 2027')).toBeVisible()
  await expect(page.getByRole('cell', { name: '2·L·d·b·max(g, D)' })).toBeVisible()
})

test('of many rows those that are looked at are there; keys reach the others, and what is typed stays when it is scrolled away', async ({
  harbour: page,
}) => {
  await page.keyboard.press('2')
  const table = page.getByRole('region', { name: 'What fits where' })
  const rows = table.locator('tr.fit-row')
  await expect(table.getByRole('table')).toHaveAttribute('aria-rowcount', /^1\d\d$/)
  const last = (await table.getByRole('table').getAttribute('aria-rowcount')) ?? ''
  await rows.first().focus()
  await page.keyboard.press('End')
  await expect(rows.last()).toBeFocused()
  await expect(rows.last()).toHaveAttribute('aria-rowindex', last)
  await expect(rows.last()).toBeInViewport({ ratio: 0.95 })
  expect(await rows.count()).toBeLessThan(40)
  await page.keyboard.press('Home')
  await expect(rows.first()).toBeFocused()
  await expect(rows.first()).toBeInViewport({ ratio: 0.95 })
  // All of each row, whichever way it is gone to: below the head, above the end of the box.
  const focused = table.locator('tr.fit-row:focus')
  for (const [move, times] of [
    ['ArrowDown', 14],
    ['PageDown', 2],
    ['ArrowUp', 9],
    ['PageUp', 4],
  ] as const)
    for (let n = 0; n < times; n++) {
      await page.keyboard.press(move)
      await expect(focused).toBeInViewport({ ratio: 0.98 })
    }
  const price = rows.nth(1).getByRole('button', { name: /^Price of/ })
  await price.click()
  await page.keyboard.type('7.25')
  const toTheEnd = (e: Element) => (e.scrollTop = e.scrollHeight)
  await table.evaluate(toTheEnd)
  await expect(rows.nth(2)).toHaveAttribute('aria-rowindex', /1\d\d/)
  await page.keyboard.press('Enter')
  await expect(rows.nth(1).getByRole('button', { name: /^Price of/ })).toHaveText(/7\.25/)
  await settled(page)

  await page.goto('/fit/machines')
  const cell = (row: number, column: number) => page.locator(`[data-cell="${row} ${column}"]`)
  await cell(0, 7).click()
  await page.keyboard.type('48')
  await page.locator('.sheet').evaluate(toTheEnd)
  await expect(page.locator('tr[aria-rowindex="3"]')).toHaveCount(0)
  await expect(cell(0, 7).getByRole('textbox')).toHaveValue('48')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+End')
  await expect(page.locator('td.here')).toBeInViewport({ ratio: 0.95 })
  await page.keyboard.press('Control+Home')
  await expect(cell(0, 0)).toBeFocused()
  await expect(cell(0, 0)).toBeInViewport({ ratio: 0.95 })
})

test('the machine sheet is worked by keyboard: typed, refused, undone; pasted from another sheet', async ({ harbour: page }) => {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto('/fit/machines')
  const cell = (row: number, column: number) => page.locator(`[data-cell="${row} ${column}"]`)
  await cell(0, 7).click()
  await page.keyboard.type('48 gib')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('Write GB for bytes')
  await page.keyboard.press('Escape')
  await page.keyboard.type('48 GiB')
  await page.keyboard.press('Enter')
  await expect(cell(0, 7)).toHaveText(/51\.5396076.GB/)
  await expect(cell(1, 7)).toBeFocused()
  await page.keyboard.press('Control+z')
  await expect(cell(0, 7)).toHaveText(/^24.GB$/)
  await page.evaluate(() => navigator.clipboard.writeText('32 GB\t1 TB/s\n40 GB\tfast\n'))
  await page.keyboard.press('Control+v')
  await expect(cell(1, 7)).toHaveText(/32.GB/)
  await expect(cell(2, 7)).toHaveText(/40.GB/)
  await expect(page.getByText(/bandwidth “fast”/)).toBeVisible()
  await page.keyboard.press('End')
  await expect(page.getByText(/one model: yes: only one service may use it/)).toBeVisible()
})

test('catalogues, shapes and load tests are told apart when they are dropped, and taken in', async ({ harbour: page }) => {
  const text = example('harbour-market.csv').replace('Tarn one', 'Tarn new').replace('Northquay pebble,Northquay', 'Northquay pebble,')
  await drop(page, 'market.csv', text)
  await expect(page.getByRole('region', { name: 'Catalogue' })).toContainText(
    '24 machines, 1 new and 23 that have names of some in this plan',
  )
  await expect(page.getByRole('region', { name: 'Catalogue' })).toContainText('row 2, provider: provider must not be empty')
  await page.getByRole('button', { name: /^Add them/ }).click()
  await expect(page.getByText('26 offers of 3 providers in 4 regions')).toBeVisible()

  await drop(
    page,
    'avocet.json',
    example('avocet-shape.json').replace('"max_position_embeddings": 32768', '"other": 1').replace('Avocet 8×6B', 'Avocet II'),
  )
  const shape = page.getByRole('region', { name: 'Shape of a model' })
  await expect(shape).toContainText('mixture of experts')
  await expect(shape).toContainText('one figure is asked for')
  await shape.getByLabel('longest prompt and answer, tokens').fill('16384')
  await shape.getByRole('button', { name: 'Take this model in' }).click()
  await expect(page.getByRole('region', { name: 'Avocet II' })).toContainText('a mixture of experts')

  await drop(page, 'trial.csv', example('curlew-load-test.csv').replaceAll('Northquay ledge', 'Fenland twin').replaceAll('8-bit', '16-bit'))
  await page.getByRole('button', { name: 'Rely on what was measured' }).click()
  await expect(page.getByRole('region', { name: 'Curlew 14B' })).toContainText('measured on Fenland twin, 10 rows')
  await settled(page)
})

test('the catalogue goes out as CSV, JSON and YAML', async ({ harbour: page }) => {
  await page.goto('/fit/machines')
  for (const [syntax, words] of [
    ['CSV', 'name,provider,region'],
    ['JSON', '"format": "sand-clock-catalogue"'],
    ['YAML', 'format: sand-clock-catalogue'],
  ]) {
    const saving = page.waitForEvent('download')
    await page.getByRole('button', { name: syntax }).click()
    expect(readFileSync(await (await saving).path(), 'utf8')).toContain(words)
  }
})
