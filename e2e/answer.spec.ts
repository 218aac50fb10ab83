import { expect } from '@playwright/test'
import { test } from './harbour.ts'
import { change, commandLine, everSeen, keptAnswer, openWith, settled, smallPlan, twoShores, verdict } from './support.ts'

test('opens on the demo plan with its answer already there', async ({ page }) => {
  const errors: string[] = []
  page.on('pageerror', (e) => errors.push(e.message))
  page.on('console', (m) => m.type() === 'error' && errors.push(m.text()))
  await page.goto('/')
  await expect(verdict(page)).toContainText(/Rent.*×.*for [\d\s]+EUR a month/)
  await expect(verdict(page)).toContainText(/Tightest: .+ of .+ to spare/)
  await expect(verdict(page)).toContainText(/With \d\.\d\d × the load .+ is the first whose promise breaks/)
  await expect(verdict(page)).toContainText('sure at 95 % over 3 independent draws')
  await expect(page.getByText(/options settled/)).toHaveCount(0)
  await expect(page.getByText('Three request classes arrive, 9.12 a second')).toBeVisible()
  expect(errors).toEqual([])
})

test('services that commit to machines together are chosen by the solver, the same in the browser and on the command line', async ({
  page,
}) => {
  const plan = twoShores()
  await openWith(page, plan)
  await expect.poll(() => keptAnswer(page, plan.name)).toEqual(commandLine(plan))
  await page.keyboard.press('6')
  const together = page.getByText(/near talk and far talk commit to \d × Northquay ledge together instead of \d, which saves/)
  await together.scrollIntoViewIfNeeded()
  await expect(page.getByRole('rowheader', { name: 'shared places' })).toBeVisible()
})

test('a changed promise marks the verdict as old, searches, and moves it; undo and redo bring each back', async ({ harbour: page }) => {
  await expect(verdict(page)).toContainText('whose promise breaks') // the last that an answer says
  const before = await verdict(page).innerText()
  const isOld = await everSeen(page, /Before your change/)
  const isSearching = await everSeen(page, /\d+ of \d+ options settled, \d+ simulations/)
  await change(page, /^tpot target of pilot desk/, '14 ms')
  await expect.poll(isOld).toBe(true)
  await expect.poll(isSearching).toBe(true)
  await settled(page)
  await expect(verdict(page)).toContainText('whose promise breaks')
  const after = await verdict(page).innerText()
  const money = (text: string) => Number(/([\d\s]+(?:\.\d+)?)\sEUR/.exec(text)?.[1].replace(/\s/g, ''))
  expect(money(after)).toBeGreaterThan(money(before))
  // What became of what was rented before is said with its figure.
  await page.keyboard.press('Escape')
  await page.keyboard.press('6')
  await expect(
    page
      .getByRole('status')
      .filter({
        hasText: /^Before your change it was \d × .*; (now it fails|it costs at least|it still holds|it holds with|now \d instead)/,
      }),
  ).toBeVisible()
  await page.keyboard.press('Control+z')
  await settled(page)
  await expect.poll(() => verdict(page).innerText()).toBe(before)
  await page.getByRole('button', { name: 'redo' }).click()
  await settled(page)
  await expect.poll(() => verdict(page).innerText()).toBe(after)
})

test('an impossible promise is answered with reasons, and a figure that is none with a sentence', async ({ harbour: page }) => {
  await change(page, /^ttft target of pilot desk/, '5 ms')
  await settled(page)
  await expect(verdict(page)).toContainText('Nothing holds every target')
  await page.goto('/answer')
  await page.locator('summary').filter({ hasText: 'too slow even alone' }).click()
  await expect(
    page.getByText(/p95 TTFT of the worst hour is [\d.]+\sms even alone on an idle replica, target 5\.00\sms/).first(),
  ).toBeVisible()
  await change(page, /^ttft target of pilot desk/, 'soon')
  await expect(page.getByRole('alert')).toHaveText('Type a duration such as 600 ms or 4 h 30 min.')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('button', { name: /^ttft target of pilot desk: 5 ms/ })).toBeFocused()
})

test('the answer view names the rivals and says why each other option fails', async ({ page }) => {
  await page.goto('/answer')
  const table = page.getByRole('table').filter({ hasText: 'least to spare' })
  await expect(table.getByRole('row').nth(4)).toBeVisible() // a header, the chosen and at least three runners-up
  await page.getByLabel('find', { exact: true }).fill('pebble, 16-bit')
  await expect(page.getByText('weights 28.0 GB, memory 24.0 GB; needs 2 devices').first()).toBeVisible()
  const plot = page.getByRole('group', { name: /Cost against the tightest promise/ })
  await plot.focus()
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByText(/Under the cursor: (up to )?\d+ × .* a month, .*, (holds|misses)\./)).toBeVisible()
})

test('a search can be stopped and taken up again; the old verdict stays meanwhile', async ({ page }) => {
  // Who searches is not there until the search was stopped: however slow the machine is, nothing was found before.
  const searcher = '**/searchWorker*'
  await page.route(searcher, () => undefined)
  await page.goto('/')
  await expect(verdict(page)).toContainText('Rent')
  await change(page, /^tpot target of pilot desk/, '44 ms')
  await page.getByRole('button', { name: 'stop' }).click()
  await expect(page.getByText('Stopped. The verdict is that of the plan before your change.')).toBeVisible()
  await expect(verdict(page)).toContainText('Before your change')
  await page.unroute(searcher)
  await page.getByRole('button', { name: 'search again' }).click()
  await expect(page.getByText(/[1-9]\d* of \d+ options settled/)).toBeVisible()
})

test('the answer says where the money goes, what every input does, and what is expected of growth', async ({ harbour: page }) => {
  await page.keyboard.press('6')
  // What is below is reckoned for who looks at it.
  await page.getByRole('heading', { name: 'Where a month’s money goes' }).scrollIntoViewIfNeeded()
  await expect(page.getByRole('listitem').filter({ hasText: /^serving [\d\u202f.]+.EUR/ })).toBeVisible()
  const what = page.getByRole('heading', { name: /^What matters/ })
  await what.scrollIntoViewIfNeeded()
  await expect(page.getByRole('listitem').first()).toBeVisible()
  const more = page.getByRole('listitem').filter({ hasText: '10 % more load' })
  await expect(more).toContainText(/of the limit/)
  await expect(page.getByText(/growth a month it has to change (after|within)/)).toBeVisible()
  await page.getByRole('button', { name: 'take out', exact: true }).last().click()
  await settled(page)
  await expect(page.getByText(/growth a month it has to change/)).toBeHidden()
})

test('while a changed plan is searched the verdict says what holds so far and below what nothing can; stopping keeps it', async ({
  page,
}) => {
  await page.goto('/answer')
  await expect(verdict(page)).toContainText('Rent')
  await change(page, /^ttft target of pilot desk/, '650 ms')
  await expect(verdict(page)).toContainText(
    /So far: rent.*for about .* a month.*Nothing below .* a month can, each service by itself\..*Before your change it was/,
  )
  await page.getByRole('button', { name: 'stop' }).click()
  await expect(verdict(page)).toContainText(/Stopped; the best so far:.*Nothing below .* a month can, each service by itself\./)
  await expect(page.getByRole('alert')).toContainText('Stopped before it was proved.')
})

test('a job that is over when its clients are done has a price once, wherever it is said', async ({ page }) => {
  const plan = smallPlan()
  const arrivals = { kind: 'closed-loop', clients: 4, requestsPerClient: 20, thinkSeconds: 0 }
  await openWith(page, {
    ...plan,
    classes: [{ ...plan.classes[0], arrivals, targets: [{ seconds: 60, ...{ measure: 'latency', percentile: 80 } }] }],
  })
  const once = /[\d\s.]+EUR\s+for\s+these\s+3\s+h\s+\([\d\s.]+EUR\s+a\s+month\s+if\s+it\s+went\s+on\)/
  await expect(verdict(page)).toContainText(once)
  await page.keyboard.press('6')
  await expect(page.getByRole('main')).toContainText(once)
})
