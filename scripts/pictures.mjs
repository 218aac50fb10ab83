// Takes the pictures of docs/screenshots/ from the built application and the demo plan; with an argument only those whose name has it.
import { chromium } from '@playwright/test'
import { build } from 'esbuild'
import { spawn } from 'node:child_process'
import { mkdirSync } from 'node:fs'
import { CHROMIUM } from './browser.mjs'

const PORT = 4399
const FOLDER = 'docs/screenshots'
/** The table of views, without the pages themselves. */
const { outputFiles } = await build({
  entryPoints: ['app/src/views.ts'],
  bundle: true,
  write: false,
  format: 'esm',
  logLevel: 'error',
  external: ['*.vue'],
})
const { VIEWS } = await import(`data:text/javascript;base64,${Buffer.from(outputFiles[0].contents).toString('base64')}`)
const SHOTS = [
  ...VIEWS.map(({ path }) => [path.slice(1), 'day']),
  // Of those whose pictures have most hues.
  ...['load', 'fit', 'run', 'answer'].map((view) => [view, 'dusk']),
  ['one/session', 'day'],
  ['fit/machines', 'day'],
  ['fit/models', 'day'],
  ['answer', 'day', 'money', 'Where a month’s money goes'],
  ['load', 'day', 'begin', undefined, 'n'],
  ['load', 'day', 'text', undefined, 'x'],
  ['load', 'day', 'log', undefined, undefined, 'examples/skerry-sound-log.csv.gz'],
]

mkdirSync(FOLDER, { recursive: true })
const server = spawn('node', ['.build/server.mjs', '--port', String(PORT)], { stdio: 'ignore' })
const browser = await chromium.launch({
  executablePath: CHROMIUM,
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
})
try {
  await new Promise((resolve) => setTimeout(resolve, 1500))
  for (const [view, theme, part, heading, key, file] of SHOTS) {
    const name = [view.replace('/', '-'), part, theme].filter(Boolean).join('-')
    if (!name.includes(process.argv[2] ?? '')) continue
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await page.addInitScript((t) => localStorage.setItem('sand-clock-theme', t), theme)
    await page.goto(`http://127.0.0.1:${PORT}/${view}`)
    await page.getByTestId('verdict').getByText('Rent').waitFor()
    await page.waitForTimeout(6_000)
    if (view === 'measure') {
      await page.getByRole('button', { name: 'look at a made-up one' }).click()
      await page.getByText('Believable to within').waitFor()
    }
    if (heading) await page.getByRole('heading', { name: heading }).evaluate((h) => h.scrollIntoView())
    if (file) {
      await page.getByLabel(/^Open a plan, a log/).setInputFiles(file)
      await page.getByRole('button', { name: 'begin a plan from it' }).click()
    }
    if (key) await page.keyboard.press(key)
    await page.waitForTimeout(heading || file || key ? 15_000 : 500) // what is seen now is reckoned now
    await page.getByText(/options settled/).waitFor({ state: 'hidden', timeout: 300_000 }) // what is searched beside it is answered
    await page.getByText(/\d+ of \d+ inputs moved/).waitFor({ state: 'hidden', timeout: 300_000 })
    await page.screenshot({ path: `${FOLDER}/${name}.png` })
    await page.close()
  }
} finally {
  await browser.close()
  server.kill()
}
