import { expect } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { test } from './harbour.ts'
import { change, choose, drop, goTo, kept, openWith, settled, smallPlan, verdict } from './support.ts'

test('an edit is kept over a reload, and so is its answer', async ({ harbour: page }) => {
  await change(page, /^Patience of pilot desk/, '35 s')
  await settled(page)
  await expect.poll(async () => JSON.stringify(await kept(page, 'plans'))).toContain('patienceSeconds\\": 35')
  await expect.poll(async () => JSON.stringify(await kept(page, 'answers'))).toContain('patienceSeconds\\": 35')
  const answer = await verdict(page).innerText()
  await page.reload()
  await expect(page.getByRole('button', { name: /^Patience of pilot desk: 35 s/ })).toBeVisible()
  await expect.poll(() => verdict(page).innerText()).toBe(answer)
  await expect(page.getByText(/options settled/)).toHaveCount(0)
})

test('a plan goes out as a file and comes back the same; the demo can always be had back', async ({ harbour: page }) => {
  await page.getByRole('button', { name: 'Plans and files' }).click()
  const saving = page.waitForEvent('download')
  await page.getByRole('menuitem', { name: 'Save this plan as a file' }).click()
  const file = await (await saving).path()
  const text = readFileSync(file, 'utf8')
  expect(JSON.parse(text)).toEqual(smallPlan())
  await page.getByRole('button', { name: 'Plans and files' }).click()
  await page.getByRole('menuitem', { name: 'Bring back the demo plan' }).click()
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Skerry Sound Harbour Office')
  await drop(page, 'again.json', text)
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Small harbour')
  await page.getByRole('button', { name: 'Plans and files' }).click()
  await expect(page.getByRole('menuitem', { name: 'Small harbour' })).toHaveCount(2)
})

test('a file of a newer version and a broken one are refused with a sentence, and nothing changes', async ({ harbour: page }) => {
  const before = await kept(page, 'plans')
  await drop(page, 'newer.json', JSON.stringify({ ...smallPlan(), version: 7 }))
  await expect(page.getByRole('alert')).toContainText('version is 7: it is newer than version 1')
  await drop(page, 'broken.json', JSON.stringify({ ...smallPlan(), horizon: { start: 'Monday', seconds: -1, warmupSeconds: 0 } }))
  await expect(page.getByRole('alert')).toContainText('horizon.start is "Monday": it must be a time such as')
  await expect(page.getByRole('alert')).toContainText('horizon.seconds is -1: it must be greater than 0.')
  // Each file is said to be what it was taken for, and what was wrong with the one before is gone.
  for (const [name, text, words] of [
    ['other.json', '{"a": 1}', /^other.json: This plan can not be read.*format: is missing; .*It was taken for a plan/],
    ['rows.yaml', 'format: sand-clock-catalogue\nversion: 99', /^rows.yaml: This catalogue can not be read.*taken for a catalogue/],
    ['letter.txt', 'Dear all,', /^letter.txt, taken for a request log, has no header that could be understood/],
    ['page.html', '<!doctype html>', /^page.html holds no requests.*is a web page/],
    ['moment.txt', '# TYPE a counter\na_total 1\n# EOF\n', /^This history says nothing of a load/],
  ] as const) {
    await drop(page, name, text)
    await expect(page.getByRole('alert')).toContainText(words)
    await expect(page.getByRole('alert')).toHaveCount(1)
  }
  expect(await kept(page, 'plans')).toEqual(before)
})

test('two tabs with the same plan never overwrite each other silently', async ({ harbour: page }) => {
  const other = await page.context().newPage()
  await other.goto('/load')
  await expect(other.getByRole('button', { name: 'Plans and files' })).toHaveText('Small harbour')
  await change(other, /^Patience of pilot desk/, '11 s')
  await expect.poll(async () => JSON.stringify(await kept(page, 'plans'))).toContain('patienceSeconds\\": 11')
  await change(page, /^Patience of pilot desk/, '33 s')
  await expect(page.getByText('Another tab changed this plan too.')).toBeVisible()
  const plans = JSON.stringify(await kept(page, 'plans'))
  expect(plans).toContain('patienceSeconds\\": 11')
  expect(plans).toContain('patienceSeconds\\": 33')
})

test('a dropped log is read, its bad rows are told by line, and it becomes the load', async ({ harbour: page }) => {
  const rows = Array.from({ length: 4000 }, (_, i) => `${(i * 2.5).toFixed(3)},pilot desk,${300 + (i % 700)},${100 + (i % 300)}`)
  rows[10] = 'yesterday,pilot desk,10,10'
  rows[20] = '50,pilot desk,-3,10'
  await drop(page, 'week.csv', ['time,class,prompt_tokens,completion_tokens', ...rows].join('\n'))
  await expect(page.getByText('week.csv: 3 998 requests over 2 h 47 min in 1 class (pilot desk).'.replaceAll(' ', ' '))).toBeVisible()
  await expect(page.getByText('2 rows were left out; the rest is used:')).toBeVisible()
  await expect(page.getByText('line 12, time is "yesterday": it must be a number of seconds.')).toBeVisible()
  await expect(page.getByText('line 22, prompt_tokens is "-3": it must be a whole number of at least 1.')).toBeVisible()
  await page.getByRole('button', { name: 'Let this log be the load of the plan' }).click()
  await settled(page)
  await expect(verdict(page)).toContainText('on this one load, replayed once')
  await expect(page.getByText('arrives as the log has it')).toBeVisible()
  await page.reload()
  await expect(verdict(page)).toContainText('on this one load, replayed once')
  await drop(page, 'cells.csv', 'a;b\n1;2\n')
  await expect(page.getByRole('alert')).toContainText('line 1 is "a,b": it must name a column such as "arrival"')
})

test('what the columns of a log are is shown, corrected by a click, and remembered for the next of that shape', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  const line = (i: number) =>
    JSON.stringify({
      when: 1_803_891_600_000 + i * 900,
      asked: 'Where is berth four, and when is high water?',
      p: { n: 300 + 7 * i, m: 40 + (i % 9) },
    })
  const picker = page.getByLabel(/^Open a plan, a log/)
  const part = (name: string, from: number) => ({
    name,
    mimeType: 'text/plain',
    buffer: Buffer.from(Array.from({ length: 100 }, (_, i) => line(from + i)).join('\n')),
  })
  await picker.setInputFiles([part('monday.jsonl', 0), part('tuesday.jsonl', 100)])
  const report = page.getByRole('region', { name: 'Request log' })
  await expect(report).toContainText('monday.jsonl, tuesday.jsonl: 200 requests over 2 min 59 s')
  await expect(report).toContainText('words: not read')
  await expect(report).not.toContainText('berth')
  const answer = report.getByRole('button', { name: /^What the column p.m is: answer tokens/ })
  await expect(answer).toBeVisible()
  await choose(page, /^What the column p.n is: prompt tokens/, 'not used')
  await expect(report).toContainText('can not be read by these columns')
  await choose(page, /^What the column p.m is/, 'prompt tokens or work')
  await choose(page, /^What the column p.n is/, 'answer tokens')
  await expect(report).toContainText('200 requests')
  await report.getByRole('button', { name: 'Let this log be the load of the plan' }).click()
  await expect(report).toHaveCount(0)
  await picker.setInputFiles(part('wednesday.jsonl', 200))
  await expect(report).toContainText('Its columns are read as you said for the last log of this shape.')
  await expect(report.getByRole('button', { name: /^What the column p.n is: answer tokens/ })).toBeVisible()
})

test('a kept answer and pins that can not be read are put aside, said and done anew', async ({ harbour: page }) => {
  await expect(verdict(page)).toContainText('whose promise breaks')
  const said = (await verdict(page).textContent()) ?? ''
  await expect.poll(async () => (await kept(page, 'answers')).length).toBeGreaterThan(0)
  await page.evaluate(async () => {
    const opened = indexedDB.open('sand-clock')
    const db = await new Promise<IDBDatabase>((on) => (opened.onsuccess = () => on(opened.result)))
    const answers = db.transaction('answers', 'readwrite').objectStore('answers')
    await new Promise((on) => {
      const all = answers.getAll() as IDBRequest<{ planId: string }[]>
      all.onsuccess = () => {
        for (const stored of all.result) answers.put({ ...stored, answer: null })
        answers.transaction.oncomplete = on
      }
    })
    db.close()
    localStorage.setItem('sand-clock-pins', '{"a b": [{"key": 3}]}')
  })
  await page.reload()
  await expect(page.getByText('What was kept as the answer of this plan can not be read: it is found anew.')).toBeVisible()
  await settled(page)
  await expect(verdict(page)).toHaveText(said)
  await page.keyboard.press('7')
  await expect(page.getByRole('heading', { level: 2 }).first()).toBeVisible()
  await expect
    .poll(async () => JSON.stringify((await kept(page, 'thrown')).map((t) => (t as { name: string }).name).sort()))
    .toBe('["a pinned run","the answer of this plan"]')
  await page.reload()
  await settled(page)
  expect(await kept(page, 'thrown')).toHaveLength(2)
})

test('under a name that the server was started for, over plain http, plans are opened, answered and kept', async ({ page, baseURL }) => {
  const { port } = new URL(baseURL ?? '')
  const errors: string[] = []
  page.on('pageerror', (e) => errors.push(e.message))
  await openWith(page, smallPlan(), `http://planner.test:${port}/`)
  expect(await page.evaluate(() => window.isSecureContext)).toBe(false)
  await expect(verdict(page)).toContainText('whose promise breaks')
  const said = (await verdict(page).textContent()) ?? ''
  await page.reload()
  await expect(verdict(page)).toHaveText(said)
  expect(errors).toEqual([])
})

test('what the prose has no figure for is said under every field, of a class and of a variant, and taken back', async ({
  harbour: page,
}) => {
  await page.getByRole('button', { name: 'every field of pilot desk' }).click()
  await choose(page, /^Say more of pilot desk/, 'retries')
  await expect(page.getByText('tries again up to 3 times, first after 1')).toBeVisible()
  await change(page, /^most of retries of pilot desk/, '5')
  await expect(page.getByText('tries again up to 5 times')).toBeVisible()
  // What its schema does not take is said with the rule.
  await change(page, /^most of retries of pilot desk/, '500')
  await expect(page.getByRole('alert')).toHaveText('It must be at most 100.')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Take retries of pilot desk out' }).click()
  await expect(page.getByText('tries again')).toHaveCount(0)
  await goTo(page, 'fit')
  await goTo(page, 'models')
  await page.getByRole('button', { name: 'every field of Curlew 14B, 8-bit' }).click()
  await choose(page, /^Say more of Curlew 14B, 8-bit/, 'efficiency')
  await choose(page, /^Say more of efficiency of Curlew/, 'memory')
  await change(page, /^memory of efficiency of Curlew 14B, 8-bit/, '0.5')
  await expect
    .poll(async () => (await kept(page, 'plans')).map((p) => String(p.text)).join())
    .toMatch(/"efficiency": ?\{\s*"memory": ?0\.5/)
})
