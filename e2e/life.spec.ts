import { expect, test } from '@playwright/test'
import { change, demo, openWith, settled, smallPlan, verdict, type PlanFile } from './support.ts'

/** Three hours with an hour of four times the load, and a policy that follows it. */
function surging(): PlanFile {
  const plan = smallPlan()
  const [talk] = demo().services
  const arrivals = { kind: 'steady', ratePerSecond: 0.5, spikes: [{ startSeconds: 4800, durationSeconds: 3600, factor: 5 }] }
  return {
    ...plan, name: 'Surging harbour', classes: plan.classes.map((c) => ({ ...c, arrivals, targets: [{ measure: 'latency', percentile: 80, seconds: 45 }] })) as PlanFile['classes'],
    services: [{ ...plan.services[0], start: talk.start, policies: talk.policies, search: { sequences: [16], devices: [1], machines: ['Northquay ledge'] } }],
  }
}

test('a policy that follows the load is rented, and the run tells how its fleet came and went', async ({ page }) => {
  await openWith(page, surging())
  await expect(verdict(page)).toContainText(/up to \d × Northquay ledge/)
  await page.keyboard.press('4')
  const told = page.getByRole('list', { name: 'What happened to the fleet' })
  await expect(told).toContainText(/Mon 00:00:00 first copy asked for \(the start\); ready 00:0\d:\d\d, after .*, most of it the machine/)
  await expect(told).toContainText(/second copy asked for \(requests in flight at \d+ % of its target\)/)
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

test('a service with one start-up time is taken apart into stages', async ({ page }) => {
  await openWith(page, smallPlan())
  await page.keyboard.press('3')
  await expect(page.getByText(/is ready 4.min after the start, all in one/)).toBeVisible()
  await page.getByRole('button', { name: 'Take it apart into stages' }).click()
  await expect(page.getByText(/the first caller after a quiet night waits/)).toBeVisible()
  await settled(page)
})
