import { expect, type Locator, type Page } from '@playwright/test'
import type { Answer } from '@sandclock/core'
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { answerOfLines, type Piece } from '../app/src/search/pieces.ts'

/** As much of the plan format as these tests touch. */
export interface PlanFile {
  version: number
  name: string
  horizon: { start: string; seconds: number; warmupSeconds: number }
  repetitions: number
  budgetPerMonth?: number
  classes: { name: string; service: string; arrivals: unknown; targets: { seconds?: number }[] }[]
  services: {
    name: string
    start?: unknown
    policies?: unknown
    limits?: Record<string, unknown>
    search: { sequences: number[]; devices?: number[]; machines?: string[]; variants?: string[]; purchases?: string[] }
  }[]
  machines: { name: string; pricePerHour: number; committedPerHour?: number; stock: number; quota?: number }[]
}

export const demo = (): PlanFile => JSON.parse(readFileSync('examples/skerry-sound.json', 'utf8')) as PlanFile

/** The pilot desk of the demo for three hours of steady load: a plan that is answered in a moment. */
export function smallPlan(): PlanFile {
  const { budgetPerMonth: _, ...plan } = demo()
  const [pilots] = plan.classes
  const [talk] = plan.services
  return {
    ...plan,
    name: 'Small harbour',
    repetitions: 2,
    horizon: { ...plan.horizon, seconds: 3 * 3600, warmupSeconds: 600 },
    classes: [{ ...pilots, arrivals: { kind: 'steady', ratePerSecond: 0.8 } }],
    services: [{ ...talk, start: undefined, policies: undefined, search: { sequences: [16, 32], devices: [1, 2] } }],
  }
}

/** Two services of eight hours on one machine, each with a busy hour when the other has none. */
export function twoShores(): PlanFile {
  const { budgetPerMonth: _, ...plan } = demo()
  const [talk] = plan.services
  const [desk] = plan.classes
  const names = ['near talk', 'far talk']
  return {
    ...plan,
    name: 'Two shores',
    repetitions: 2,
    horizon: { ...plan.horizon, seconds: 8 * 3600, warmupSeconds: 600 },
    machines: plan.machines.map((m) =>
      m.name === 'Northquay ledge' ? { ...m, pricePerHour: 2, committedPerHour: 0.5, stock: 20, quota: 20 } : m,
    ),
    services: names.map((name) => ({
      ...talk,
      name,
      search: { sequences: [32], devices: [1], machines: ['Northquay ledge'], variants: ['8-bit'], purchases: ['committed'] },
      policies: [{ name: 'follows', min: 1, max: 3, metrics: [{ metric: 'in-flight', target: 10 }] }],
    })),
    classes: names.map((service, i) => ({
      ...desk,
      name: `${service} desk`,
      service,
      arrivals: { kind: 'hourly', ratesPerSecond: [0, 1, 2, 3, 4, 5, 6, 7].map((h) => (h === 1 + 4 * i ? 4 : 0.1)) },
      targets: [{ measure: 'latency', percentile: 80, seconds: 60 }],
    })) as PlanFile['classes'],
  }
}

export const verdict = (page: Page): Locator => page.getByTestId('verdict')

/** Waits until no search is running and the verdict is that of the open plan. */
export async function settled(page: Page): Promise<void> {
  // At once: one after the other a search could begin between two of them.
  await expect(verdict(page)).not.toContainText(/Before your change|So far|being found|being told/)
  await expect(page.getByText(/options settled/)).toHaveCount(0)
}

/** Opens the application with a plan file, given to it as a person would: by picking it. */
export async function openWith(page: Page, plan: PlanFile, at = '/load'): Promise<void> {
  await page.goto(at)
  // Before the demo is answered: it is not wanted.
  await page
    .getByLabel(/^Open a plan, a log/)
    .setInputFiles({ name: 'plan.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(plan)) })
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText(plan.name)
  await settled(page)
}

/** Changes a figure of the sentence as a person would: click, type, Enter. */
export async function change(page: Page, label: RegExp, text: string): Promise<void> {
  await page.getByRole('button', { name: label }).click()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}

/** Chooses of a list in prose. What arrives meanwhile may move the list between the pointer's going down and up: then once more. */
export async function choose(page: Page, label: RegExp, option: string): Promise<void> {
  const entry = page.getByRole('option', { name: option })
  await page.getByRole('button', { name: label }).click()
  await expect(entry).toBeVisible()
  await expect(async () => {
    if (await entry.isVisible()) await entry.click()
    await expect(entry).toBeHidden({ timeout: 5_000 })
  }).toPass()
}

/** Lets a file fall onto the page. */
export async function drop(page: Page, name: string, text: string): Promise<void> {
  const transfer = await page.evaluateHandle(
    ([fileName, content]) => {
      const data = new DataTransfer()
      data.items.add(new File([content], fileName))
      return data
    },
    [name, text],
  )
  await page.dispatchEvent('body', 'dragover', { dataTransfer: transfer })
  await page.dispatchEvent('body', 'drop', { dataTransfer: transfer })
}

interface Answered {
  perMonth: number
  services: {
    chosen: { machine: string; variant: string; devices: number; sequences: number; machines: number; money: { perMonth: number } } | null
  }[]
}

/** What it said of each plan to this worker: the same plan is asked about once. */
const said = new Map<string, Answered>()

/** What the command line says. It comes behind whoever is timed, as the browser does. */
export const commandText = (...args: string[]): string =>
  execFileSync('nice', ['-n', '10', 'node', 'cli/bin/sandclock.mjs', ...args], {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
    maxBuffer: 64e6,
  })

/** What the command line answers to a plan. */
export function commandLine(plan: unknown): Answered {
  const text = JSON.stringify(plan)
  const before = said.get(text)
  if (before) return before
  const folder = mkdtempSync(join(tmpdir(), 'sand-clock-'))
  writeFileSync(join(folder, 'plan.json'), text)
  const answer = JSON.parse(commandText('recommend', join(folder, 'plan.json'), '--json')) as Answered
  rmSync(folder, { recursive: true })
  said.set(text, answer)
  return answer
}

/** The answer that the browser keeps for a plan of this name; undefined while there is none. */
export async function keptAnswer(page: Page, name: string): Promise<unknown> {
  const lines = (await kept(page, 'answers')).map((a) => a.answer as string[]).find(([head]) => head.includes(name))
  return (
    lines &&
    answerOfLines(
      lines,
      (head) => head as Answer,
      (piece) => piece as Piece,
    )
  ) // checked by who compares it
}

/** Everything that the browser keeps in one table of its database. */
export function kept(page: Page, table: string): Promise<Record<string, unknown>[]> {
  return page.evaluate(
    (name) =>
      new Promise((resolve, reject) => {
        const open = indexedDB.open('sand-clock')
        open.onerror = () => reject(new Error('no database'))
        open.onsuccess = () => {
          const all = open.result.transaction(name).objectStore(name).getAll()
          all.onsuccess = () => {
            open.result.close()
            resolve(all.result as Record<string, unknown>[])
          }
        }
      }),
    table,
  )
}

/** What a view shows last, once all of it is there. */
const SEEN_LAST: Record<string, (page: Page) => Locator> = {
  one: (page) => page.getByText('Exact figures of these pictures'),
  'one session': (page) => page.getByRole('slider', { name: /began as the rule/ }),
  'only a model’s size': (page) => page.getByText('Exact figures of these pictures'),
  load: (page) => page.getByRole('heading', { name: /How long requests are/ }),
  fit: (page) => page.getByRole('region', { name: 'What fits where' }).getByRole('row').nth(1),
  machines: (page) => page.getByRole('row').nth(1),
  models: (page) => page.getByRole('row').nth(1),
  start: (page) => page.getByText(/is ready .* after the start, all in one|the first caller after a quiet night waits/),
  measure: (page) => page.getByRole('button', { name: 'begin to measure' }),
  run: (page) => page.getByRole('region', { name: 'Measures of the run' }),
  answer: (page) => page.getByRole('heading', { name: /Why not the other/ }),
  compare: (page) => page.getByText(/From A to B \d+ things? change/),
}

/** Goes to a view by its link, and waits until it is all there. */
export async function goTo(page: Page, path: string): Promise<void> {
  await page.getByRole('link', { name: new RegExp(`^${path}`, 'i') }).click()
  const view = path === 'machines' || path === 'models' ? 'fit' : path.startsWith('only') ? 'one' : path.split(' ')[0]
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(new RegExp(view, 'i'))
  await expect(SEEN_LAST[path](page)).toBeVisible()
}

/** The measurement that ships with it, where nothing was measured. */
export async function lookAtMadeUp(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'look at a made-up one' }).click()
  await expect(page.getByRole('button', { name: 'take the costs in' })).toBeVisible()
}

/** Whether a text was to be seen at any moment from now on: for what may be gone again before one looks. */
export async function everSeen(page: Page, pattern: RegExp): Promise<() => Promise<boolean>> {
  const at = await page.evaluateHandle((source) => {
    const found = { seen: false }
    const look = () => (found.seen ||= new RegExp(source).test(document.body.innerText))
    new MutationObserver(look).observe(document.body, { childList: true, characterData: true, subtree: true })
    return found
  }, pattern.source)
  return () => at.evaluate((found) => found.seen)
}

/** What stands in the cells of a row, with plain spaces. */
export async function cellsOf(row: Locator): Promise<string[]> {
  return (await row.getByRole('cell').allInnerTexts()).map((text) => text.replaceAll(/[\u00a0\u202f]/g, ' ').trim())
}
