import { expect, test, type Page } from '@playwright/test'
import { build } from 'esbuild'
import { readFileSync } from 'node:fs'
import { change, commandLine, demo, keptAnswer, openWith, settled, smallPlan, verdict } from './support.ts'

/** Names of the locks that helpers of a search hold while they live. */
const helpers = (page: Page) =>
  page.evaluate(async () => ((await navigator.locks.query()).held ?? []).filter((l) => l.name?.startsWith('sand-clock helper')).length)

const workers = (page: Page, name: string) => page.workers().filter((w) => w.url().includes(name))

const cores = (page: Page, count: number) =>
  page.addInitScript((n) => Object.defineProperty(navigator, 'hardwareConcurrency', { get: () => n }), count)

test('logarithms, whole runs and answers have the kept bits in a worker of the browser, as in Node', async ({ page }) => {
  const { outputFiles } = await build({
    stdin: { contents: `import { bits } from './core/test/bits/bits.ts'; postMessage(bits())`, resolveDir: '.', loader: 'ts' },
    bundle: true,
    write: false,
    format: 'iife',
    logLevel: 'error',
  })
  await page.goto('/load')
  const there = await page.evaluate(
    (code) =>
      new Promise((resolve, reject) => {
        const worker = new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })))
        worker.onmessage = (e) => resolve(e.data)
        worker.onerror = (e) => reject(new Error(e.message))
      }),
    outputFiles[0].text,
  )
  // Node's own are compared with the same file by `npm run bits`.
  const kept: unknown = JSON.parse(readFileSync('core/test/bits/kept.json', 'utf8'))
  expect(there).toEqual(kept)
})

for (const count of [2, 4]) {
  test(`the helpers of ${count} cores give the answer of the command line to the last digit, in shared memory`, async ({ page }) => {
    await cores(page, count)
    // Of brief runs the thread that leads a search makes them, and no helper is there.
    const plan = { ...smallPlan(), horizon: { ...smallPlan().horizon, seconds: 9 * 3600 } }
    await openWith(page, plan)
    expect(await page.evaluate(() => crossOriginIsolated)).toBe(true)
    const there = commandLine(plan)
    await expect.poll(() => keptAnswer(page, plan.name)).toEqual(there)
    // They wait for the next search.
    await expect.poll(() => helpers(page)).toBe(Math.max(2, count - 1))
    if (count === 2) await isSaid(page, there)
  })
}

/** What is kept is also what the page says. */
async function isSaid(page: Page, there: ReturnType<typeof commandLine>): Promise<void> {
  const { chosen } = there.services[0]
  if (!chosen) throw new Error('the small plan is meant to have an answer')
  await expect(verdict(page)).toContainText(`${chosen.machines} × ${chosen.machine}`)
  expect((await verdict(page).innerText()).replace(/\D/g, '')).toContain(String(Math.round(there.perMonth)))
  // Fewer bits than the best variant has are not chosen without a word.
  expect(chosen.variant).not.toBe('16-bit')
  await page.keyboard.press('6')
  await expect(page.getByText(new RegExp(`${chosen.variant} scores [\\d.]+\\s% where 16-bit has`))).toBeVisible()
}

test('a helper that dies is replaced and the answer is the same; a stopped search leaves none', async ({ page }) => {
  await cores(page, 3)
  await openWith(page, smallPlan())
  const before = await verdict(page).innerText()
  await page.goto('/load')
  await page
    .getByLabel(/^Open a plan, a log/)
    .setInputFiles({
      name: 'plan.json',
      mimeType: 'application/json',
      buffer: Buffer.from(JSON.stringify({ ...demo(), name: 'Long harbour', repetitions: 4 })),
    })
  await expect.poll(() => helpers(page)).toBe(2)
  const [victim] = workers(page, 'trialWorker')
  if (!victim) throw new Error('no helper is seen')
  await victim.evaluate(() => self.close())
  await expect.poll(() => page.workers().includes(victim)).toBe(false)
  // The lock of the one that died may be held for a while: whether there is another is seen by who is there. One that is stopped while it
  // starts is held by the debugger of these tests for ever, and whoever started it with it; without a debugger it goes.
  await expect.poll(() => workers(page, 'trialWorker').length).toBe(2)
  await expect.poll(() => helpers(page)).toBe(2)
  await expect(page.getByText(/\d+ of \d+ options settled/)).toBeVisible()
  await page.getByRole('button', { name: /stop/i }).first().click()
  await expect.poll(() => helpers(page)).toBe(0)
  await expect.poll(() => workers(page, 'searchWorker').length).toBe(0)
  expect(before).toContain('Rent')
})

for (const [what, path] of [
  ['does not take it', '**/api/searches'],
  ['forgets it', '**/api/searches/*'],
] as const) {
  test(`a search that is wanted on a server that ${what} is done in the browser, with the same answer`, async ({ page }) => {
    await page.addInitScript(() => localStorage.setItem('sand-clock-search-place', 'server'))
    let asked = 0
    await page.route(path, (route) => {
      const { url, method } = { url: route.request().url(), method: route.request().method() }
      if (url.endsWith('/searches') && method === 'GET') return route.continue()
      asked++
      return method === 'POST' ? route.abort() : route.fulfill({ status: 404, contentType: 'application/json', body: '{"message":"gone"}' })
    })
    const plan = smallPlan()
    await openWith(page, plan)
    expect(asked).toBeGreaterThan(0)
    await expect.poll(() => keptAnswer(page, plan.name)).toEqual(commandLine(plan))
  })
}

test.describe('on the server', () => {
  // One after the other: whom it has no room for searches in the browser.
  test.describe.configure({ mode: 'default' })

  test('a search on the server goes on while the page is loaded anew, and its answer is that of the command line', async ({ page }) => {
    const whole = demo()
    const heavy = {
      ...whole,
      name: 'Harbour by server',
      horizon: { ...whole.horizon, seconds: 43_200 },
      classes: whole.classes.slice(0, 1),
      services: whole.services.slice(0, 1),
    }
    const heard: string[] = []
    page.on('request', (r) => {
      const search = /\/api\/searches\/(\w+)/.exec(r.url())
      if (search && r.method() === 'GET') heard.push(search[1])
    })
    // The first page asks for what is found and is told nothing, so that it has no answer before it goes, however fast the server is.
    const listening = '**/api/searches/*'
    await page.route(listening, () => undefined)
    await page.addInitScript(() => localStorage.setItem('sand-clock-search-place', 'server'))
    await page.goto('/load')
    await expect(verdict(page)).toContainText('Rent')
    await page
      .getByLabel(/^Open a plan, a log/)
      .setInputFiles({ name: 'plan.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(heavy)) })
    await expect.poll(() => heard).toHaveLength(1)
    const before = heard.splice(0)
    await page.unroute(listening)
    await page.reload()
    // It is the same search that the new page hears of, not another.
    await expect.poll(() => heard).toEqual(before)
    await settled(page)
    await expect.poll(() => keptAnswer(page, heavy.name)).toEqual(commandLine(heavy))
  })

  test('a search is moved from the server to the browser while it runs', async ({ page }) => {
    await page.addInitScript(
      () => localStorage.getItem('sand-clock-search-place') ?? localStorage.setItem('sand-clock-search-place', 'server'),
    )
    await page.goto('/answer')
    await expect(verdict(page)).toContainText('Rent')
    await change(page, /^ttft target of pilot desk/, '640 ms')
    await expect(page.getByText(/^on the server: /)).toBeVisible()
    await expect(page.getByText(/ [1-9]\d* simulations/)).toBeVisible()
    await page.getByRole('button', { name: 'search in this browser' }).click()
    await expect(page.getByRole('button', { name: /^search on the server, with \d+ threads?/ })).toBeVisible()
    await expect(verdict(page)).toContainText('So far: rent')
    await page.getByRole('button', { name: 'stop' }).click()
  })
})
