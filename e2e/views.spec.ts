import { expect } from '@playwright/test'
import { test } from './harbour.ts'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { caller, sleeper } from '../core/test/sleeper.ts'
import {
  change,
  choose,
  commandLine,
  commandText,
  goTo,
  kept,
  lookAtMadeUp,
  type PlanFile,
  settled,
  smallPlan,
  verdict,
} from './support.ts'

test('the load is pulled on its curve, by pointer and by key', async ({ harbour: page }) => {
  await page.keyboard.press('1')
  const knob = page.getByRole('slider', { name: /Height of pilot desk/ })
  const rate = async () =>
    Number(
      /: ([\d.]+)\./.exec((await page.getByRole('button', { name: /^Peak rate of pilot desk/ }).getAttribute('aria-label')) ?? '')?.[1],
    )
  expect(await rate()).toBe(0.8)
  await knob.focus()
  await page.keyboard.press('ArrowUp')
  await expect.poll(rate).toBeCloseTo(0.84, 3)
  await settled(page)
  const at = await knob.boundingBox()
  if (!at) throw new Error('the ring has no place')
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2)
  await page.mouse.down()
  await page.mouse.move(at.x + at.width / 2, at.y + 120, { steps: 5 })
  await page.mouse.up()
  await expect.poll(rate).toBeLessThan(0.6)
})

test('hours and days are painted, and spikes and dated events laid on the axis, by pointer and by key', async ({ harbour: page }) => {
  const planned = async () => {
    const plans = (await kept(page, 'plans')).map((p) => JSON.parse(String(p.text)) as PlanFile)
    return plans.find((p) => p.name === 'Small harbour')?.classes[0].arrivals as {
      hours?: number[]
      days?: number[]
      ratePerSecond: number
      spikes?: { startSeconds: number; durationSeconds: number; factor: number }[]
      events?: { from: string; until: string; factor: number }[]
    }
  }
  await page.locator('main').getByRole('button', { name: 'pilot desk', exact: true }).click()
  await page.getByRole('button', { name: 'give it hours and days' }).click()
  const hours = page.getByRole('slider', { name: /^Requests a second of pilot desk in each hour/ })
  await expect(hours).toBeVisible()
  await settled(page) // the words above may take another line until then
  const box = await hours.boundingBox()
  if (!box) throw new Error('the hours have no place')
  // From the left below to the right above: it rises from hour to hour.
  await page.mouse.move(box.x + 50, box.y + box.height - 24)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width - 16, box.y + 20, { steps: 4 })
  await page.mouse.up()
  await expect.poll(async () => (await planned()).hours?.at(-1)).toBe(1)
  const painted = (await planned()).hours ?? []
  expect(painted).toEqual([...painted].sort((a, b) => a - b))
  expect(painted[0]).toBeLessThan(0.2)
  const days = page.getByRole('slider', { name: /^Requests a second of pilot desk on each day/ })
  await days.focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowDown')
  await expect(days).toHaveAttribute('aria-valuetext', /^Tue: /)
  await expect.poll(async () => (await planned()).days).toEqual([1, 0.95, 1, 1, 1, 1, 1])
  // A spike and an event, moved along the axis and taken away.
  await page.getByRole('button', { name: /^lay a spike at/ }).click()
  const height = page.getByRole('slider', { name: 'Height of spike 1 of pilot desk' })
  await height.focus()
  await page.keyboard.press('Shift+ArrowUp')
  await expect(height).toHaveText('2.5 ×')
  await page.getByRole('button', { name: 'a dated event there' }).click()
  const end = page.getByRole('slider', { name: 'End of event 1 of pilot desk' })
  await settled(page)
  const at = await end.boundingBox()
  if (!at) throw new Error('the tab has no place')
  await page.mouse.move(at.x + 6, at.y + 6)
  await page.mouse.down()
  await page.mouse.move(at.x - 100, at.y + 6, { steps: 4 })
  await page.mouse.up()
  await expect.poll(async () => (await planned()).spikes?.[0].factor).toBe(2.5)
  const lasts = async () => ((await planned()).events ?? []).map((e) => Date.parse(e.until) - Date.parse(e.from))
  await expect.poll(async () => (await lasts())[0]).toBeLessThan(7200_000)
  await page.getByRole('slider', { name: 'Begin of spike 1 of pilot desk' }).focus()
  await page.keyboard.press('Delete')
  await expect(height).toHaveCount(0)
  await settled(page)
})

test('one request is laid out before any week of load: what it finds, beside whom, and to the digit as on the command line', async ({
  harbour: page,
}) => {
  await page.keyboard.press('0')
  const words = page.locator('main li').filter({ hasText: 'the first token comes after' })
  await expect(words).toHaveCount(4)
  const { chosen } = commandLine(smallPlan()).services[0]
  if (!chosen) throw new Error('the small plan has an answer')
  // It begins where the answer is.
  await expect(page.getByRole('button', { name: `Machine of C: ${chosen.machine}` })).toBeVisible()
  await change(page, /^Tokens of this prompt/, '600')
  await change(page, /^Tokens of this answer/, '50')
  await change(page, /^Others in service of C/, '3')
  const file = join(test.info().outputPath('.'), 'plan.json')
  writeFileSync(file, JSON.stringify(smallPlan()))
  const place = [
    '--on',
    chosen.machine,
    '--variant',
    chosen.variant,
    '--devices',
    String(chosen.devices),
    '--side-by-side',
    String(chosen.sequences),
  ]
  const asked = ['--prompt', '600', '--answer', '50', '--kept', '10min', '--others', '3']
  const said = commandText('one', file, ...place, ...asked)
  // Every sentence of it, its money too.
  const sentences = said.slice(said.indexOf('The first token')).split('.\n').slice(0, 3)
  expect(sentences[1]).toMatch(/^On demand it costs [\d.]+\sEUR: /)
  for (const sentence of sentences) await expect(words.nth(2)).toContainText(sentence.slice(1))
  // A prompt of one's own is estimated, and said to be.
  await page.getByText('Type or paste the prompt itself').click()
  await page.getByRole('textbox', { name: 'The prompt itself' }).fill('Where is berth four, and when is high water there?')
  await expect(page.getByText('13 tokens, an estimate by its letters')).toBeVisible()
  await page.getByRole('button', { name: 'take 13' }).click()
  await expect(page.getByRole('button', { name: /^Tokens of this prompt: 13/ })).toBeVisible()
  // A stopwatch proves no capacity: it leaves some, and says what to try next.
  await page.getByRole('button', { name: 'type what a real try took' }).click()
  const proof = page.getByRole('region', { name: 'What a stopwatch proves' })
  await expect(proof).toContainText('something else took its time') // ten seconds for thirteen tokens and fifty
  await change(page, /^Figure of reading 1/, '1.2')
  await expect(proof).toContainText(/ways in which it may be \d+ are left, in which one replica bears .* requests a second/)
  await expect(proof.getByRole('img', { name: /^Capacities that are left/ })).toBeVisible()
  // What can not be is said, and the others stay.
  await change(page, /^Devices of A/, '64')
  await expect(page.getByRole('alert')).toContainText('A: This request can not be laid out.')
  await expect(words).toHaveCount(3)
  await page.getByRole('button', { name: 'Take A out' }).click()
  await page.getByRole('button', { name: 'lay another beside' }).click()
  await expect(words).toHaveCount(4)
})

test('a session fans out into what each way of ending it costs, and the time-out is pulled: all of it as on the command line', async ({
  harbour: page,
}) => {
  await page.keyboard.press('0')
  await page.getByRole('link', { name: 'one session' }).click()
  const table = page.getByRole('table', { name: 'What each way of ending the session costs' })
  await change(page, /^Requests of the session/, '5')
  await change(page, /^Pause between requests of the session/, '4 min')
  await change(page, /^Hour until which it is left on/, '17:30')
  await change(page, /^Worth of a caller who does not wait/, '0.5')
  const file = join(test.info().outputPath('.'), 'plan.json')
  writeFileSync(file, JSON.stringify(smallPlan()))
  const { chosen } = commandLine(smallPlan()).services[0]
  if (!chosen) throw new Error('the small plan has an answer')
  const place = ['--on', chosen.machine, '--variant', chosen.variant, '--devices', String(chosen.devices)]
  const asked = ['--side-by-side', String(chosen.sequences), '--requests', '5', '--pause', '4min', '--until', '17:30', '--worth', '0.5']
  const said = commandText('session', file, ...place, ...asked)
  const plain = (text: string) => text.replaceAll(/\s+/g, ' ')
  // Every row of the table, and every sentence above and below it.
  const sentences = said.split('\n').filter((line) => /^(It takes|Forgetting|Switched off|Over the)/.test(line))
  expect(sentences).toHaveLength(4)
  for (const sentence of sentences) await expect.poll(async () => plain(await page.locator('main').innerText())).toContain(plain(sentence))
  const rows = await table.locator('tbody tr').all()
  expect(rows).toHaveLength(5)
  for (const row of rows) expect(plain(said)).toContain(plain((await row.locator('td').allInnerTexts()).join(' ')))
  await expect(page.getByRole('img', { name: /^What the session costs along the clock/ })).toBeVisible()
  // By the rule at first; a shorter time-out turns more callers away cold.
  const tab = page.getByRole('slider', { name: /began as the rule/ })
  const cold = async () => Number(/(\d+) cold callers/.exec((await tab.getAttribute('aria-valuetext')) ?? '')?.[1])
  const before = await cold()
  await tab.focus()
  for (let i = 0; i < 6; i++) await page.keyboard.press('Shift+ArrowLeft')
  await expect.poll(cold).toBeGreaterThan(before)
  // The best of these gaps is pulled by itself, and costs no less anywhere else.
  const best = page.getByRole('slider', { name: /began as the best/ })
  const cost = async () => Number(/: ([\d.]+)/.exec((await best.getAttribute('aria-valuetext')) ?? '')?.[1])
  const least = await cost()
  await best.focus()
  for (let i = 0; i < 6; i++) await page.keyboard.press('Shift+ArrowLeft')
  await expect.poll(cost).toBeGreaterThan(least)
  // Where a replica is ready there is no start-up.
  await expect(page.locator('main')).toContainText(/It takes .+ of start-up/)
  await choose(page, /^What is there at the call of A/, 'a ready replica')
  await expect(page.locator('main')).toContainText(/It takes [^:]+: 5 requests/)
  // What can not be is said, and nothing is lost.
  await change(page, /^Devices of A/, '64')
  await expect(page.getByRole('alert')).toContainText('This request can not be laid out.')
  await change(page, /^Devices of A/, String(chosen.devices))
  await expect(table).toBeVisible()
})

test('the run view reads off the cursor, zooms, and has its figures as a table', async ({ harbour: page }) => {
  await page.keyboard.press('5')
  const time = page.getByRole('slider', { name: 'Time under the cursor' })
  await time.focus()
  const before = await time.getAttribute('aria-valuetext')
  for (let i = 0; i < 40; i++) await page.keyboard.press('ArrowRight')
  expect(await time.getAttribute('aria-valuetext')).not.toBe(before)
  await expect(page.getByRole('img', { name: /Replica 1: [\d.]+ in service, [\d.]+ waiting/ })).toBeVisible()
  await expect(page.getByText('Mon 00:00 to Mon 03:00')).toBeVisible()
  await expect(page.getByLabel('What the run says')).toContainText(
    /In the whole time (no request was late|[\d\s]+ requests? (was|were) late)/,
  )
  for (let i = 0; i < 4; i++) await page.keyboard.press('+')
  await expect(page.getByLabel('What the run says')).toContainText('In the time shown')
  await expect(page.getByRole('button', { name: 'see all' })).toBeVisible()
  await expect(page.getByText('Mon 00:00 to Mon 03:00')).toHaveCount(0)
  await page.getByRole('button', { name: 'see all' }).click()
  await expect(page.getByText('Mon 00:00 to Mon 03:00')).toBeVisible()
  await page.getByText('Exact figures of this picture').click()
  const rows = page.getByRole('region', { name: 'Figures of the run' }).getByRole('row')
  await expect(rows.nth(100)).toContainText(/Mon \d\d:\d\d.*ms/)
})

test('the cursor is one: moved in the load view, it stands there in the run view', async ({ harbour: page }) => {
  await page.keyboard.press('1')
  const curve = page.getByRole('group', { name: 'Arrivals per second over the horizon' })
  const box = await curve.boundingBox()
  if (!box) throw new Error('the curve has no place')
  await page.mouse.move(box.x + box.width / 2, box.y + 100)
  const words = /Mon \d\d:\d\d under the cursor/
  const time = /Mon \d\d:\d\d/.exec(await page.getByText(words).innerText())?.[0]
  await page.keyboard.press('5')
  await expect(page.getByRole('slider', { name: 'Time under the cursor' })).toHaveAttribute('aria-valuetext', time ?? 'none')
})

test('the sentence is found again where a view left it, and open where each view is', async ({ page }) => {
  await page.goto('/run')
  await settled(page)
  const pane = page.getByRole('complementary', { name: 'Plan' })
  const open = () =>
    pane.locator('.passage:not(.is-line)').evaluateAll((all) => all.map((e) => e.closest('[data-passage]')?.getAttribute('data-passage')))
  const scrolled = () => pane.evaluate((e) => e.scrollTop)
  await expect.poll(open).toEqual(['service 0', 'service 1', 'service 2'])
  await pane.evaluate((e) => (e.scrollTop = 60))
  await expect.poll(scrolled).toBe(60)
  await page.keyboard.press('1')
  await expect.poll(open).toEqual(['class 0', 'class 1', 'class 2'])
  await expect.poll(scrolled).toBe(0)
  await page.keyboard.press('5')
  await expect.poll(open).toEqual(['service 0', 'service 1', 'service 2'])
  await expect.poll(scrolled).toBe(60)
})

test('a machine taken out of the search is not rented any more', async ({ harbour: page }) => {
  const machine = /× ([\w ]+?) for/.exec((await verdict(page).innerText()).replaceAll('\n', ' '))?.[1] ?? ''
  await page.keyboard.press('2')
  await expect(page.getByText('weights 28.0 GB, memory 24.0 GB; needs 2 devices').first()).toBeVisible()
  await page.getByRole('searchbox', { name: 'Show rows' }).fill(machine)
  await page.getByRole('button', { name: 'none', exact: true }).click()
  await settled(page)
  await expect(verdict(page)).toContainText('Rent')
  await expect(verdict(page)).not.toContainText(machine)
})

test('a dearer price, a further class and a new promise each move the verdict', async ({ harbour: page }) => {
  const machine = /× ([\w ]+?) for/.exec((await verdict(page).innerText()).replaceAll('\n', ' '))?.[1] ?? ''
  await page.keyboard.press('2')
  await page.getByRole('searchbox', { name: 'Show rows' }).fill(machine)
  await page
    .getByRole('button', { name: new RegExp(`^Price of ${machine} an hour`) })
    .first()
    .click()
  await page.keyboard.type('80')
  await page.keyboard.press('Enter')
  await settled(page)
  await expect(verdict(page)).not.toContainText(machine)
  // What it did stands beside the figure, until the next change.
  const effect = page.locator('.effect')
  await expect(effect).toHaveText(/^[\d\s.]+EUR → [\d\s.]+EUR a month$/)
  await page.keyboard.press('1')
  await page.getByRole('button', { name: 'Add a class like pilot desk' }).click()
  await expect(effect).toHaveCount(0)
  await page.getByRole('button', { name: /^Class: another pilot desk/ }).click()
  await page.keyboard.type('night desk')
  await page.keyboard.press('Enter')
  await expect(page.getByText('two request classes arrive, 1.6 a second')).toBeVisible()
  await choose(page, /^Add a promise to night desk/, 'the whole answer')
  await settled(page)
  await page.keyboard.press('6')
  await expect(page.getByRole('cell', { name: 'night desk, p95 latency' })).toBeVisible()
})

test('the keyboard alone reaches everything: views, sheet, theme, figures', async ({ harbour: page }) => {
  for (const [key, path] of [
    ['0', '/one'],
    ['1', '/load'],
    ['2', '/fit'],
    ['3', '/start'],
    ['4', '/measure'],
    ['5', '/run'],
    ['6', '/answer'],
    ['7', '/compare'],
  ]) {
    await page.keyboard.press(key)
    await expect(page).toHaveURL(new RegExp(`${path}$`))
  }
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog')).toContainText('undo, redo an edit')
  await page.keyboard.press('Escape')
  await page.keyboard.press('t')
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dusk')
  const figure = page.getByRole('button', { name: /^Patience of pilot desk/ })
  await figure.focus()
  await page.keyboard.press('ArrowUp')
  await expect(page.getByRole('button', { name: /^Patience of pilot desk: 22 s/ })).toBeVisible()
  // What is folded in a view is found by its name.
  await page.keyboard.press('1')
  const headRoom = page.getByRole('button', { name: /^Head-room/ })
  await expect(headRoom).toHaveCount(0)
  await page.keyboard.press('/')
  await page.keyboard.type('head-room')
  await expect(headRoom).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(headRoom).toBeFocused()
})

test('nothing runs over the page, whatever its width, and every key figure has room on a usual one', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  for (const path of ['one', 'load', 'fit', 'machines', 'models', 'start', 'measure', 'run', 'answer', 'compare']) {
    await page.setViewportSize({ width: 1280, height: 800 })
    await goTo(page, path)
    if (path === 'measure') await lookAtMadeUp(page)
    const figures = page.getByRole('navigation', { name: 'Views' }).locator('.truncate')
    await expect(figures).toHaveCount(8)
    const cut = () => figures.evaluateAll((all) => all.filter((f) => f.scrollWidth > f.clientWidth).map((f) => f.textContent))
    await expect.poll(cut, `key figures that end in dots in ${path}`).toEqual([])
    for (const width of [390, 1024, 2560]) {
      await page.setViewportSize({ width, height: 800 })
      const over = () => page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)
      await expect.poll(over, `${path} at ${width} pixels`).toBeLessThanOrEqual(0)
    }
  }
})

test('a plan that states what it runs on, and searches nothing, is there in every view', async ({ page }) => {
  await page.goto('/')
  await page.getByLabel(/^Open a plan, a log/).setInputFiles('examples/one-configuration.json')
  await expect(verdict(page)).toContainText(/As stated\s*2 × replica with given step costs\s+for\s+3.650.EUR a month/)
  const sees = async (key: string, what: RegExp) => {
    await page.keyboard.press(key)
    await expect(page.locator('main')).toContainText(what)
  }
  await sees('0', /the first token comes after/)
  await sees('1', /pilot desk/)
  await sees('2', /talk states its own step costs: there is nothing to place/)
  await sees('3', /talk is ready 0 s after the start/)
  await sees('4', /Nothing is measured yet/)
  await sees('5', /p95 TTFT/)
  await sees('6', /As stated, 2 × replica with given step costs as 2 replicas, 48 side by side/)
  await sees('7', /a month/)
  // What it states is changed in its sentence, and answered anew.
  await page.keyboard.press('2')
  await change(page, /^Replicas of talk/, '1')
  await expect(verdict(page)).toContainText(/As stated\s*1 × replica with given step costs\s+for\s+1.825.EUR a month/)
})

test('what it costs to spare a cold caller is in Answer what the command line says, and is made so', async ({ page }, info) => {
  const plan = sleeper([caller('a', 36_000), caller('b', 122_000), caller('c', 208_000)], 'hold')
  const file = info.outputPath('sleeper.json')
  writeFileSync(file, JSON.stringify(plan))
  await page.goto('/')
  await page.getByLabel(/^Open a plan, a log/).setInputFiles(file)
  await expect(verdict(page)).toContainText(/As stated/)
  await page.keyboard.press('6')
  await expect(page.locator('main')).toContainText('a: 0 of 1 caller found a ready replica; 1 caller waited for the machine')
  await page.getByRole('heading', { name: /^What does it cost to spare a cold caller/ }).scrollIntoViewIfNeeded()
  const rows = page.getByRole('region', { name: 'Ways of sparing cold callers' }).locator('tbody tr')
  const plain = (text: string) => text.replaceAll(/\s+/g, ' ').trim()
  const told = commandText('simulate', file, '--details')
  const [table] = told.slice(told.indexOf('what it costs to spare')).trim().split('\n\n')
  const ways = table
    .split('\n')
    .slice(2)
    .map((line) => plain(line.replace(/^\*/, '').replace(/kept\s*$/, '')))
  expect(ways.length).toBeGreaterThan(5)
  // Each way is laid beside the others as it is found: the page is at its end when it has what the command line has.
  await expect
    .poll(async () => (await rows.allInnerTexts()).map((t) => plain(t.replace(/^\d+\s/, '').replace(/\s+make it so$/, ''))))
    .toEqual(ways)
  await page.getByRole('button', { name: 'Make it so: weights as part of the image' }).click()
  // 80 s for the machine, 65 s for 39 GB at 600 MB/s, 5 s of loading, 20 s of warm-up.
  await expect(page.locator('main')).toContainText(/at the longest 2\smin\s50\ss/)
  await expect.poll(async () => JSON.stringify(await kept(page, 'plans'))).toContain('\\"from\\": \\"image\\"')
})

test('the wait that is left and an own estimate say in the page what the command line says', async ({ page }, info) => {
  const [first] = sleeper([caller('a', 36_000)], 'hold').classes
  const plan = sleeper([{ ...first, arrivals: { ...first.arrivals, clients: 30, rampSeconds: 150 } as typeof first.arrivals }], 'hold')
  const file = info.outputPath('callers.json')
  const left = info.outputPath('left.json')
  writeFileSync(file, JSON.stringify(plan))
  const said = (...options: string[]) => commandText(...options)
  const plain = (text: string) => text.replaceAll(/\s+/g, ' ').trim()
  await page.goto('/')
  await page.getByLabel(/^Open a plan, a log/).setInputFiles(file)
  await expect(verdict(page)).toContainText(/As stated/)
  await page.keyboard.press('3')
  const part = page.getByRole('region', { name: 'The wait that is left' })
  await expect(part.locator('tbody tr')).not.toHaveCount(0)
  const told = said('simulate', file, '--details', '--wait-left', left)
  const shown = (await part.locator('tbody tr').allInnerTexts()).map(plain)
  const table = told
    .slice(told.indexOf('the wait that is left'))
    .split('\n')
    .slice(2, 2 + shown.length)
  expect(shown).toEqual(table.map(plain))
  const [written] = JSON.parse(readFileSync(left, 'utf8')) as { after: unknown[] }[]
  expect(written.after).toHaveLength(shown.length)
  await page.keyboard.press('0')
  await change(page, /^Own estimate: for a month/, '168')
  const words = said('one', file, '--mine', 'month=168').split('YOUR OWN ESTIMATE\n')[1]
  await expect(page.getByRole('region', { name: 'Check your own estimate' })).toContainText(plain(words))
})
