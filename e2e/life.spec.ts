import { expect } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { test } from './harbour.ts'
import { change, demo, drop, kept, openWith, settled, smallPlan, verdict, type PlanFile } from './support.ts'

/** Three hours with an hour of several times the load, and a policy that follows it. */
function surging(factor = 5): PlanFile {
  const plan = smallPlan()
  const [talk] = demo().services
  const arrivals = { kind: 'steady', ratePerSecond: 0.5, spikes: [{ startSeconds: 4800, durationSeconds: 3600, factor }] }
  return {
    ...plan,
    name: 'Surging harbour',
    classes: plan.classes.map((c) => ({
      ...c,
      arrivals,
      targets: [{ measure: 'latency', percentile: 80, seconds: 45 }],
    })) as PlanFile['classes'],
    services: [
      {
        ...plan.services[0],
        start: talk.start,
        policies: talk.policies,
        search: { sequences: [16], devices: [1], machines: ['Northquay ledge'] },
      },
    ],
  }
}

test('a policy that follows the load is rented, and the run tells how its fleet came and went', async ({ page }) => {
  await openWith(page, surging())
  await expect(verdict(page)).toContainText(/up to \d × Northquay ledge/)
  await page.keyboard.press('5')
  const told = page.getByRole('list', { name: 'What happened to the fleet' })
  await expect(told).toContainText(/Mon 00:00:00 first copy is there: it runs from before the start/)
  await expect(told).toContainText(
    /second copy asked for \(requests in flight at \d+ % of its target\); ready \d\d:\d\d:\d\d, after .*, most of it the machine/,
  )
  const time = page.getByRole('slider', { name: 'Time under the cursor' })
  const second = told.getByText(/second copy asked for/).first()
  const when = (await second.innerText()).slice(0, 'Mon 00:00'.length)
  await second.click()
  await expect(time).toHaveAttribute('aria-valuetext', when)
  await expect(page.getByRole('img', { name: /Replica 2: (starting up: machine|not there)/ })).toBeVisible()
  const before = await time.getAttribute('aria-valuetext')
  await page.getByRole('button', { name: 'let the cursor run' }).click()
  await expect(time).not.toHaveAttribute('aria-valuetext', before ?? '')
  await page.getByRole('button', { name: 'halt the cursor' }).click()
  await page.locator('select').first().selectOption({ index: 1 })
  await expect(page.getByText('What happened to the fleet')).toBeVisible()
})

test('the start-up view lays stages out, shares the source among many, and keeps weights where it is told to', async ({ page }) => {
  await openWith(page, surging())
  await page.keyboard.press('3')
  const caller = page.getByText(/the first caller after a quiet night waits/)
  const alone = await caller.innerText()
  await page.getByRole('radio', { name: '16' }).click()
  await expect(caller).not.toHaveText(alone)
  await expect(page.getByText(/fetched at each start, as in the plan/)).toBeVisible()
  await page.getByRole('button', { name: 'on the machine' }).click()
  await expect(page.getByText('weights kept on the machine, as in the plan')).toBeVisible()
  await change(page, /^Time-out of a start-up/, '30 s')
  await expect(caller).toContainText('for ever: the start is given up each time')
  await settled(page)
  await page.getByText('Exact figures of this picture').click()
  await expect(page.getByRole('cell', { name: 'where one was before' }).first()).toBeVisible()
})

test('a service with one start-up time is taken apart into stages', async ({ harbour: page }) => {
  await page.keyboard.press('3')
  await expect(page.getByText(/is ready 4.min after the start, all in one/)).toBeVisible()
  await page.getByRole('button', { name: 'Take it apart into stages' }).click()
  await expect(page.getByText(/the first caller after a quiet night waits/)).toBeVisible()
  await settled(page)
})

/** A surge that the policy sees too late for a promise that is not kept to all. */
function late(): PlanFile {
  const plan = surging()
  return {
    ...plan,
    name: 'Late harbour',
    classes: plan.classes.map((c) => ({ ...c, targets: [{ measure: 'ttft', percentile: 80, seconds: 2 }] })) as PlanFile['classes'],
  }
}

test('a bad moment is explained, prevented by a change that was simulated, and the change is made', async ({ page }) => {
  await openWith(page, late())
  await page.keyboard.press('5')
  const moments = page.getByRole('button', { name: /^Mon .* late\)$/ })
  await moments.first().click()
  const panel = page.getByRole('region', { name: 'A bad moment' })
  await expect(panel).toContainText(/of [\d\u202f]+ requests were late, most of them pilot desk against p80 TTFT 2\.00.s/)
  await expect(panel.getByText(/What would have prevented it/)).toBeVisible({ timeout: 60_000 })
  await expect(panel.getByRole('status')).toBeHidden({ timeout: 60_000 })
  const first = panel.getByRole('listitem').filter({ hasText: 'make it so' }).first()
  await expect(first).toContainText(/a month (more|less)|costs the same/)
  await first.getByRole('button', { name: 'show beside' }).click()
  await expect(page.getByText(/^Below: the same with/)).toBeVisible()
  await page.getByRole('button', { name: 'only the run above' }).click()
  const before = await kept(page, 'plans')
  await panel.getByRole('button', { name: 'make it so' }).first().click()
  await expect.poll(async () => JSON.stringify(await kept(page, 'plans'))).not.toBe(JSON.stringify(before))
  await expect(panel).toBeHidden()
})

test('a policy is pulled on the picture by key and by pointer, and a window is added at the cursor', async ({ page }) => {
  await openWith(page, surging(8)) // so many that the policy stays the cheapest whatever is pulled
  await page.keyboard.press('5')
  const sentence = page.getByRole('button', { name: /^Minimum of follows the tide/ })
  const least = page.getByRole('slider', { name: 'Least copies of follows the tide' })
  await least.focus()
  await page.keyboard.press('ArrowUp')
  await expect(sentence).toContainText('2')
  await settled(page) // nothing moves on the screen any more
  const box = await least.boundingBox()
  if (!box) throw new Error('the tab is not on the screen')
  await page.mouse.move(box.x + 8, box.y + 8)
  await page.mouse.down()
  await page.mouse.move(box.x + 8, box.y - 120, { steps: 6 })
  await page.mouse.up()
  await expect(sentence).toContainText('1')
  const aim = page.getByRole('slider', { name: 'Target of follows the tide' })
  await aim.focus()
  await page.keyboard.press('ArrowDown')
  await expect(page.getByRole('button', { name: /^Target of follows the tide/ })).toContainText('9')
  await page.getByRole('button', { name: /^raise the minimum from Mon/ }).click()
  await expect(page.getByRole('button', { name: /^Begin of window 1 of follows the tide/ })).toBeVisible()
  const end = page.getByRole('slider', { name: 'End of window 1 of follows the tide' })
  await end.focus()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('button', { name: /^End of window 1 of follows the tide/ })).toContainText(':05')
  await end.focus()
  await page.keyboard.press('Delete')
  await expect(page.getByRole('button', { name: /^End of window 1 of follows the tide/ })).toBeHidden()
  await settled(page)
})

test('the demo shows a policy that fails the storm night where a fixed number holds, one above the other', async ({ page }) => {
  await page.goto('/run')
  const run = page.locator('select').first()
  await expect(run.locator('option').first()).toContainText(/up to 3 × Northquay cairn .*follows the tide/)
  await run.selectOption(
    await run.locator('option', { hasText: 'rejected: watches the processor on Northquay cairn' }).first().getAttribute('value'),
  )
  await expect(
    page.getByText(
      /The search rejected it: pilot desk: p95 (TTFT|TPOT) of the worst hour misses its target .* requests were late or lost when it could not be kept any more/,
    ),
  ).toBeVisible()
  await expect(page.getByRole('button', { name: /^Thu 18:\d\d .*late\)/ }).first()).toBeVisible()
  await expect(page.getByText(/It is blind to what is short, and never grows/)).toBeVisible()
  const beside = page.locator('select').nth(1)
  await beside.selectOption(
    await beside
      .locator('option', { hasText: /^\d+ × Northquay/ })
      .first()
      .getAttribute('value'),
  )
  await expect(page.getByText(/^Below: \d+ × Northquay/)).toBeVisible()
})

test('a stage is pulled on the picture of start-ups', async ({ page }) => {
  await openWith(page, surging())
  await page.keyboard.press('3')
  await page.getByRole('slider', { name: 'Length of the stage machine' }).focus()
  await page.keyboard.press('Shift+ArrowRight')
  await expect(page.getByRole('button', { name: /^Until a machine is there:/ })).toContainText('90')
  await settled(page)
})

test('start-ups that were timed are dropped, laid beside those of the plan and taken in', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  await drop(page, 'starts.csv', readFileSync('examples/skerry-sound-starts.csv', 'utf8'))
  const timed = page.getByRole('region', { name: 'Timed start-ups' })
  await expect(timed).toContainText('12 start-ups were timed')
  await expect(timed.getByRole('row', { name: /^image/ })).toContainText('40.0 s')
  await timed.getByRole('button', { name: 'take these stages in' }).click()
  await expect(timed).toBeHidden()
  await drop(page, 'again.csv', readFileSync('examples/skerry-sound-starts.csv', 'utf8'))
  // What was taken in is what the plan says now.
  await expect(timed.getByRole('row', { name: /^image/ })).toContainText(/40\.0\ss.*40\.0\ss/)
  // A bad line is told, and the rest is kept.
  await drop(page, 'bad.csv', 'start,stage,seconds\n1,machine,60\n1,unpacking,3\n')
  await expect(page.getByText(/line 3|row 3/)).toBeVisible()
  await expect(timed).toContainText('one start-up was timed')
})
