import { chromium, expect, test, type Page } from '@playwright/test'
import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { CHROMIUM } from '../scripts/browser.mjs'
import { change, kept } from './support.ts'

/** `KILLS=20 KILL_AFTER_MS=50` measures how soon an edit is on the disk; without, the browser is killed once it says that it is. */
const KILLS = Number(process.env.KILLS ?? 4)
const { KILL_AFTER_MS } = process.env

/** A browser of its own that can be killed: Playwright ends its own in good order. */
async function started(profile: string, address: string): Promise<{ browser: ChildProcess; page: Page }> {
  const portFile = join(profile, 'DevToolsActivePort')
  rmSync(portFile, { force: true })
  const browser = spawn(
    CHROMIUM,
    [
      '--headless',
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--remote-debugging-port=0',
      `--user-data-dir=${profile}`,
      'about:blank',
    ],
    { stdio: 'ignore', detached: true },
  )
  await expect.poll(() => existsSync(portFile) && readFileSync(portFile, 'utf8').includes('\n')).toBe(true)
  const [port] = readFileSync(portFile, 'utf8').split('\n')
  const over = await chromium.connectOverCDP(`http://127.0.0.1:${port}`)
  const page = over.contexts()[0].pages()[0]
  await page.goto(address)
  await expect(page.getByRole('button', { name: 'Plans and files' })).toBeVisible()
  return { browser, page }
}

/** Ends the browser and all that belongs to it, without a word. */
async function kill({ pid, exitCode }: ChildProcess, browser: ChildProcess): Promise<void> {
  const gone = exitCode === null ? new Promise((over) => browser.once('exit', over)) : Promise.resolve()
  if (pid !== undefined) process.kill(-pid, 'SIGKILL')
  await gone
}

test(`an edit is there again after the browser was killed, ${KILLS} times of ${KILLS}`, async ({ baseURL }, info) => {
  const profile = info.outputPath('profile')
  let { browser, page } = await started(profile, `${baseURL}/answer`)
  try {
    for (let kills = 1; kills <= KILLS; kills++) {
      await change(page, /^Seed/, String(1000 + kills))
      if (KILL_AFTER_MS !== undefined) await page.waitForTimeout(Number(KILL_AFTER_MS))
      else
        await expect
          .poll(async () => JSON.stringify([await kept(page, 'journal'), await kept(page, 'plans')]))
          .toContain(`\\"seed\\": ${1000 + kills}`)
      await kill(browser, browser)
      ;({ browser, page } = await started(profile, `${baseURL}/answer`))
      await expect(page.getByRole('button', { name: /^Seed/ })).toContainText(`${1000 + kills}`.replace(/\B(?=(\d{3})+$)/g, '\u202f'))
    }
  } finally {
    await kill(browser, browser)
  }
})
