import { expect, type Page } from '@playwright/test'
import { execFile, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { test } from './harbour.ts'
import { change, openWith, settled, smallPlan, verdict } from './support.ts'

/** Step costs of a service that stands for a real one; nobody who asks knows them. So slow that a busy machine is late by little of it. */
const HIDDEN = {
  kind: 'token',
  memorySeconds: 0.04,
  cacheSecondsPerToken: 1e-6,
  arithmeticSeconds: 0,
  overheadSeconds: { base: 0.001, perSequence: 0.0004 },
  prefillBaseSeconds: 0.03,
  prefillMemorySeconds: 0,
  prefillSecondsPerToken: 0.0006,
  prefillSecondsPerTokenSquared: 0,
  cacheTokens: 400_000,
}

/** A stand-in with these step costs, and where it is asked. */
async function standIn(folder: string): Promise<{ url: string; end: () => void }> {
  const plan = JSON.parse(readFileSync('examples/one-configuration.json', 'utf8')) as { services: { configuration: object }[] }
  Object.assign(plan.services[0].configuration, { replicas: 1, sequences: 64, profile: HIDDEN })
  const file = join(folder, 'hidden.json')
  writeFileSync(file, JSON.stringify(plan))
  const child = spawn('node', ['cli/bin/sandclock.mjs', 'stand-in', file], { stdio: ['ignore', 'pipe', 'ignore'] })
  let said = ''
  while (!/is at http/.test(said)) said += String((await once(child.stdout, 'data'))[0])
  return { url: `${/http:\/\/[\d.:]+/.exec(said)?.[0]}/v1/chat/completions`, end: () => void child.kill() }
}

// The server measures one thing at a time.
test.describe.configure({ mode: 'serial' })

const belief = (page: Page) => page.getByTestId('belief')
/** How far off the median and p95 of what was not fitted are, in per cent. */
async function within(page: Page): Promise<number> {
  await expect(belief(page)).toContainText('Believable to within')
  return Number(/within ([\d.]+)/.exec((await belief(page).textContent()) ?? '')?.[1])
}

test('a real endpoint is asked from the view, its step costs are taken in, and the verdict moves and says why', async ({ page }) => {
  test.setTimeout(600_000) // it may be measured several times
  const folder = mkdtempSync(join(tmpdir(), 'sand-clock-measure-'))
  const { url, end } = await standIn(folder)
  try {
    await openWith(page, smallPlan(), '/measure')
    const before = (await verdict(page).textContent()) ?? ''
    await expect(belief(page)).toContainText('Nothing is measured yet')
    await change(page, /^Address that is asked/, url)
    await change(page, /^Callers at once/, '1, 3, 8')
    await change(page, /^Requests of each caller/, '6')
    await change(page, /^Tokens of prompt/, '150 + 12, 700 + 18')
    await change(page, /^How long each load lasts/, '25 s')

    // It grows while it is asked, goes on while the page is loaded anew, and keeps what there is when it is stopped.
    await page.getByRole('button', { name: 'begin to measure' }).click()
    await expect(belief(page)).toContainText(/[1-9]\d* requests, [1-9]\d* answered/)
    await page.reload()
    await expect(page.getByRole('button', { name: 'stop' })).toBeVisible()
    await expect(belief(page)).toContainText(/[1-9]\d* requests, [1-9]\d* answered/)
    await page.getByRole('button', { name: 'stop' }).click()
    await expect(page.getByText('It ended early: it was stopped')).toBeVisible()

    // A machine with much else to do makes a stand-in late as well: then it is measured again, as anybody would.
    let off = Infinity
    for (let times = 0; off > 5 && times < 6; times++) {
      await page.getByRole('button', { name: 'measure again' }).click()
      await expect(page.getByRole('button', { name: 'stop' })).toBeVisible()
      await expect(page.getByRole('button', { name: 'measure again' })).toBeVisible()
      off = await within(page)
    }
    expect(off).toBeLessThanOrEqual(5)
    await expect(page.getByRole('heading', { name: 'Where does it bend?' })).toBeVisible()

    // The command line finds the same behind the same requests.
    const [saved] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'requests as CSV' }).click()])
    const csv = join(folder, 'rows.csv')
    await saved.saveAs(csv)
    const { stdout } = await promisify(execFile)('node', ['cli/bin/sandclock.mjs', 'costs', csv])
    expect(stdout.split('\n')[0]).toBe(((await belief(page).textContent()) ?? '').trim())

    await page.getByRole('button', { name: 'take the costs in' }).click()
    await expect(page.getByText('The measured step costs of pilot talk are in the plan')).toBeVisible()
    await settled(page)
    expect(await verdict(page).textContent()).not.toBe(before)
    await page.getByRole('link', { name: /^Answer/ }).click()
    await expect(page.locator('main')).toContainText('Before your change it was')
    await page.getByRole('link', { name: /^Fit/ }).click()
    await page.getByRole('searchbox', { name: 'Show rows' }).fill('measured')
    await expect(page.locator('tr.fit-row').first()).toContainText('measured')
  } finally {
    end()
  }
})

test('measured requests that are dropped are told, compared, thrown away and had back', async ({ page }) => {
  await openWith(page, smallPlan(), '/measure')
  const csv = readFileSync('examples/curlew-measured.csv', 'utf8')
  const input = page.getByLabel(/^Open a plan, a log/)
  await input.setInputFiles({ name: 'all.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) })
  await expect(belief(page)).toContainText(/Believable to within [\d.]+\s% .* up to 44 at once/)
  // Without what judges, nothing does.
  const fitted = csv.split('\n').filter((line) => !line.includes('to judge by'))
  await input.setInputFiles({ name: 'fitted.csv', mimeType: 'text/csv', buffer: Buffer.from(fitted.slice(0, 13).join('\n')) })
  await expect(belief(page)).toContainText('Nothing judges this fit')
  await page.getByRole('button', { name: /^Which measurement it is compared with/ }).click()
  await page.getByRole('option', { name: /^all\.csv/ }).click()
  await expect(page.getByRole('heading', { name: 'Before: all.csv' })).toBeVisible()
  await page.getByRole('button', { name: 'throw it away' }).click()
  await expect(belief(page)).toContainText('Believable')
  await page.getByRole('button', { name: 'have it back' }).click()
  await expect(belief(page)).toContainText('Nothing judges this fit')
  // What is none is said so, with its line.
  await input.setInputFiles({ name: 'bad.csv', mimeType: 'text/csv', buffer: Buffer.from(csv.replace(',finished,', ',lost,')) })
  await expect(page.getByText(/line 2: has the outcome “lost”/)).toBeVisible()
  await expect(belief(page)).toContainText('Nothing judges this fit')

  // An endpoint that nobody is at: outcomes, and a sentence; one that the server was not started for is refused.
  await page.getByText(/^what is asked next:/).click()
  await change(page, /^Address that is asked/, 'http://127.0.0.1:9/answer')
  await page.getByRole('button', { name: 'measure again' }).click()
  await expect(belief(page)).toContainText('none of the requests finished and streamed')
  await change(page, /^Address that is asked/, 'http://elsewhere.invalid/answer')
  await page.getByRole('button', { name: 'measure again' }).click()
  await expect(page.getByText(/say --allow-host elsewhere\.invalid/)).toBeVisible()
})
