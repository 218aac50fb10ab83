import { chromium } from '@playwright/test'
import { spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
const s = spawn('node', ['.build/server.mjs', '--port', '4998'], { stdio: 'ignore' })
await new Promise(r => setTimeout(r, 2000))
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu'] })
const d = JSON.parse(readFileSync('examples/skerry-sound.json', 'utf8')); const { budgetPerMonth: _, ...plan } = d
const small = { ...plan, name: 'Small harbour', repetitions: 2, horizon: { ...plan.horizon, seconds: 3 * 3600, warmupSeconds: 600 }, classes: [{ ...plan.classes[0], arrivals: { kind: 'steady', ratePerSecond: 0.8 } }], services: [{ ...plan.services[0], start: undefined, policies: undefined, search: { sequences: [16, 32], devices: [1, 2] } }] }
const job = { ...small, name: 'One evening of bulk', classes: [{ ...small.classes[0], arrivals: { kind: 'closed-loop', clients: 4, requestsPerClient: 20, thinkSeconds: 0 }, targets: [{ seconds: 60, measure: 'latency', percentile: 80 }] }] }
const open = async (theme, at, p) => { const c = await b.newContext({ viewport: { width: 1280, height: 800 } }); const page = await c.newPage(); await page.addInitScript((t) => localStorage.setItem('sand-clock-theme', t), theme); await page.goto('http://127.0.0.1:4998/' + at); await page.getByTestId('verdict').getByText('Rent').waitFor(); if (p) { await page.getByLabel(/^Open a plan, a log/).setInputFiles({ name: 'plan.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(p)) }); await page.getByRole('button', { name: 'Plans and files' }).getByText(p.name).waitFor(); await page.getByText(/options settled/).waitFor({ state: 'hidden', timeout: 120000 }).catch(() => 0); await page.waitForTimeout(3000) } return page }
const want = process.argv.slice(2)
const shot = async (name, f) => { if (want.length && !want.some(w => name.includes(w))) return; const page = await f(); await page.screenshot({ path: `/tmp/shots/${name}.png` }); await page.context().close() }
for (const theme of ['day', 'dusk']) {
  await shot('thrown-' + theme, async () => {
    const p = await open(theme, 'load', small)
    await p.getByRole('button', { name: 'Plans and files' }).click(); await p.waitForTimeout(400)
    await p.screenshot({ path: `/tmp/shots/menu-${theme}.png` })
    await p.getByRole('menuitem', { name: /Throw this plan away/i }).click(); await p.waitForTimeout(2500)
    await p.screenshot({ path: `/tmp/shots/bar-${theme}.png` })
    await p.getByRole('button', { name: 'Plans and files' }).click()
    await p.getByRole('menuitem', { name: /thrown/i }).click(); await p.waitForTimeout(800)
    return p })
  await shot('job-' + theme, async () => { const p = await open(theme, 'load', job); await p.keyboard.press('5'); await p.waitForTimeout(9000); return p })
}
for (const v of ['load', 'fit', 'fit/machines', 'fit/models']) await shot(v.replace('/', '-') + '-dusk', async () => { const p = await open('dusk', v); await p.waitForTimeout(6000); return p })
for (const [n, h] of [['money', 'Where a month’s money goes'], ['layers', 'Why not the other']]) await shot(n + '-dusk', async () => { const p = await open('dusk', 'answer'); await p.waitForTimeout(30000); await p.getByRole('heading', { name: h }).evaluate((e) => e.scrollIntoView()); await p.waitForTimeout(500); return p })
await shot('compare-day', async () => { const p = await open('day', 'compare'); await p.waitForTimeout(9000); return p })
await shot('run-dusk', async () => { const p = await open('dusk', 'run'); await p.waitForTimeout(9000); return p })
await b.close(); s.kill()
