import { expect } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { violationsOf } from './accessible.ts'
import { test } from './harbour.ts'
import { change, drop, kept } from './support.ts'

test('the plan as text and the sentence are in step, with the cursor on the same thing', async ({ harbour: page }) => {
  await page.keyboard.press('x')
  const text = page.getByRole('textbox', { name: 'The plan as text' })
  const line = page.locator('.cm-activeLine')
  await expect(text).toBeVisible()
  await change(page, /^Patience of pilot desk/, '35 s')
  await expect(line).toHaveText('"patienceSeconds": 35,')
  // What was changed is selected: typing over it changes it again, and the sentence with it.
  await text.focus()
  await page.keyboard.type('40')
  await expect(page.getByRole('button', { name: /^Patience of pilot desk: 40 s/ })).toBeVisible()
  await expect(line).toHaveText('"patienceSeconds": 40,')
  await expect(page.locator('.is-at')).toContainText('pilot desk')
  // What is no plan is said where it is wrong, and the sentence stays; undone it is a plan again.
  await page.keyboard.type('x')
  await expect(page.getByRole('status').filter({ hasText: 'not a plan yet' })).toBeVisible()
  await expect(page.locator('.cm-lint-marker-error')).toBeVisible()
  await expect(page.getByRole('button', { name: /^Patience of pilot desk: 40 s/ })).toBeVisible()
  await page.keyboard.press('Backspace')
  await expect(page.getByText('in step with the sentence')).toBeVisible()
  // Taken as a whole: letter by letter it would be a plan in between, which is then what is come back to.
  await page.keyboard.press('Shift+ArrowLeft')
  await page.keyboard.press('Shift+ArrowLeft')
  await page.keyboard.type('-1')
  await expect(page.locator('.cm-lintRange-error')).toHaveText('-1')
  await page.getByRole('button', { name: 'give up what was typed' }).click()
  await expect(text).toContainText('"patienceSeconds": 40')
  // What has the focus in the sentence is shown in the text.
  await page.getByRole('button', { name: /^Class: pilot desk/ }).focus()
  await expect(line).toHaveText('"name": "pilot desk",')
  await page.getByRole('button', { name: /^Median prompt of pilot desk/ }).focus()
  await expect(line).toHaveText('"median": 520,')
  // And where the cursor of the text is, the figure of the sentence is marked.
  await text.getByText('"ratePerSecond": 0.8').click()
  await expect(page.locator('.is-here')).toHaveText(/^0\.8/)
  expect(await violationsOf(page, { within: 'section[aria-label="The plan as text"]', rules: 'advised' })).toEqual([])
})

test('the guide is there to be read, with its pictures', async ({ harbour: page }) => {
  const opening = page.waitForEvent('popup')
  await page.getByRole('link', { name: 'guide', exact: true }).click()
  const guide = await opening
  await expect(guide.getByRole('heading', { level: 1 })).toHaveText('A whole case, from a log to what to rent')
  const pictures = guide.getByRole('img')
  await expect(pictures.first()).toBeVisible()
  const widths = () => pictures.evaluateAll((all) => all.map((img) => (img as HTMLImageElement).naturalWidth))
  await expect.poll(async () => Math.min(...(await widths()))).toBeGreaterThan(1000)
})

test('a plan in YAML is YAML as text, with its comments, and what is proposed is taken', async ({ harbour: page }) => {
  await drop(page, 'chat.yaml', readFileSync('examples/openings/chat.yaml', 'utf8').replace(/^seed: \d+$/m, 'seed: 7 # a lucky one'))
  await page.keyboard.press('x')
  const text = page.getByRole('textbox', { name: 'The plan as text' })
  await expect(text).toBeVisible()
  await page.keyboard.press('6')
  await change(page, /^Seed/, '8')
  await expect(page.locator('.cm-activeLine')).toHaveText('seed: 8 # a lucky one')
  await page.locator('.cm-activeLine').click()
  await page.keyboard.press('End')
  await page.keyboard.press('Enter')
  await page.keyboard.type('not')
  // Enter would be a new line for the first moments of the list.
  await page.getByRole('option', { name: 'note' }).click()
  await page.keyboard.type('for Monday')
  await expect.poll(async () => (await kept(page, 'plans')).map((p) => String(p.text)).join()).toContain('"note": "for Monday"')
  await expect.poll(async () => JSON.stringify(await kept(page, 'sources'))).toContain('# a lucky one\\nnote: for Monday')
  // What is typed just before it is closed is not lost.
  await page.keyboard.type(' morning')
  await page.getByRole('button', { name: 'Close the plan as text' }).click()
  await expect.poll(async () => (await kept(page, 'plans')).map((p) => String(p.text)).join()).toContain('"note": "for Monday morning"')
})
