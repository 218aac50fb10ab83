import { expect, test } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { violationsOf } from './accessible.ts'
import { change, choose, drop, kept, settled, verdict } from './support.ts'

test('a plan is begun from a few figures by keyboard, and answered', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  await page.keyboard.press('n')
  await page.getByRole('button', { name: 'pictures in denoising steps' }).press('Enter')
  const words = page.getByTestId('begin-words')
  await expect(words).toContainText('Each takes 28 denoising steps. The whole answer is promised within 30 s.')
  await page.getByRole('button', { name: /^Requests a second at the busiest/ }).press('Enter')
  await page.keyboard.type('0.1')
  await page.keyboard.press('Enter')
  await expect(words).toContainText('At the busiest 0.1')
  // Its answer stands beside it while it is written, and is that of the plan once it is begun.
  const beside = page.getByRole('dialog').getByTestId('verdict')
  await expect(beside).toContainText(/Rent.* a month.*Meets, sure at 95 % over 3 independent draws/)
  const found = (await beside.innerText()).split('\n')[0]
  await expect(page.getByRole('dialog').getByRole('status')).toHaveCount(0)
  await page.getByText(/things that were not asked for/).press('Enter')
  await expect(page.getByText('500 requests may wait, more are refused')).toBeVisible()
  await page.getByRole('button', { name: 'begin this plan' }).press('Enter')
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Pictures in denoising steps')
  await settled(page)
  expect((await verdict(page).innerText()).split('\n')[0]).toBe(found)
  await expect(page.getByRole('complementary', { name: 'Plan' })).toContainText('wishes for a picture sends up to 0.1')
})

test('every opening is answered beside its paragraph', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  await page.keyboard.press('n')
  const sheet = page.getByRole('dialog')
  const listed = page.getByRole('list', { name: 'Openings' }).getByRole('button')
  await expect(listed).toHaveCount(6)
  const openings = await listed.allInnerTexts()
  for (const name of openings) {
    await sheet.getByRole('button', { name: name.trim() }).click()
    // The first that holds is there within moments; the proof that nothing is cheaper takes what it takes.
    await expect(sheet.getByTestId('verdict')).toContainText(/rent\s*(up to )?\d+ × .* for (about )?[\d\s.]+EUR a month/i)
  }
})

test('a beginning that is left changes nothing', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  await page.getByRole('button', { name: 'begin a plan of your own' }).click()
  const words = page.getByTestId('begin-words')
  await expect(words).toContainText('The first token is promised within 1 s')
  expect(await violationsOf(page, { within: '[role=dialog]' })).toEqual([])
  await change(page, /^What is promised/, '700 ms')
  await page.keyboard.press('Escape')
  await expect(words).toHaveCount(0)
  // What was typed is there again.
  await page.keyboard.press('n')
  await expect(words).toContainText('The first token is promised within 700 ms')
  await page.getByRole('button', { name: 'close' }).click()
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Skerry Sound Harbour Office')
})

test('a plan is begun with a model of one’s own: of its shape file, or as fast as it was seen to be', async ({ page }) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  await page.keyboard.press('n')
  const words = page.getByTestId('begin-words')
  await expect(words).toContainText('Curlew 14B')
  const text = readFileSync('examples/avocet-shape.json', 'utf8').replace('"max_position_embeddings": 32768', '"other": 1')
  await drop(page, 'mine.json', text.replace('Avocet 8×6B', 'Avocet mine'))
  const sheet = page.getByRole('dialog')
  await expect(sheet).toContainText(
    'mine.json tells of Avocet mine, a mixture of experts of 37.8 billion parameters; 3 of its figures were reckoned',
  )
  await expect(sheet).toContainText('It does not tell longest prompt and answer, tokens:')
  await expect(words).toContainText('Curlew 14B')
  await change(page, /^longest prompt and answer, tokens/, '16384')
  await expect(words).toContainText('Avocet mine, by its shape file, answers on machines of')
  await expect(page).toHaveURL(/load$/)
  await choose(page, /^Model: /, 'A model that is as fast as was seen')
  await expect(words).toContainText('40 tokens a second alone and 20 each with 16 side by side')
  await change(page, /^Speed of each of several/, '60')
  await expect(words.getByRole('alert')).toContainText('side by side none can be faster than alone')
  await change(page, /^Speed of each of several/, '25')
  await choose(page, /^Machine on which it was seen/, 'Fenland twin')
  await expect(sheet.getByTestId('verdict')).toContainText(/Fenland twin for .* a month/)
  await page.getByRole('button', { name: 'begin this plan' }).click()
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Chat for people')
  await expect.poll(async () => (await kept(page, 'plans')).map((p) => String(p.text)).join()).toContain('"name": "as it was tried"')
})

test('a log becomes a plan: what it is like is drawn and told, taken or left, and the plan is answered', async ({ page }) => {
  const failures: string[] = []
  page.on('console', (message) => message.type() === 'error' && failures.push(message.text()))
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  // Nothing of the log leaves the browser: from here on it asks for parts of the application and for searches that
  // the server may have, and says nothing.
  const [asked, said]: [string[], string[]] = [[], []]
  page.context().on('request', (request) => {
    const { pathname, search, protocol } = new URL(request.url())
    if (protocol === 'blob:' || protocol === 'data:') return
    const isPart =
      request.method() === 'GET' && search === '' && /^\/(assets\/[\w.-]+|api\/searches)$/.test(pathname) && request.postData() === null
    ;(isPart ? asked : said).push(`${request.method()} ${request.url()}`)
  })
  page.on('websocket', (socket) => said.push(socket.url()))
  // Three days with a busy hour at noon; prompts of 300 to 500 tokens.
  const rows = Array.from({ length: 3 * 24 * 40 }, (_, i) => {
    const hour = Math.floor(i / 40)
    const seconds = hour * 3600 + (i % 40) * (hour % 24 === 12 ? 30 : 89.5) + (i % 7)
    return `${new Date(1_803_859_200_000 + seconds * 1000).toISOString()},${300 + ((i * 37) % 200)},${100 + ((i * 17) % 90)}`
  }).filter((_, i) => Math.floor(i / 40) % 24 === 12 || i % 4 === 0)
  const log = ['time,prompt_tokens,completion_tokens', ...rows].join('\n')
  await page.getByLabel(/^Open a plan, a log/).setInputFiles({ name: 'three-days.csv', mimeType: 'text/csv', buffer: Buffer.from(log) })
  await page.getByRole('button', { name: 'begin a plan from it' }).click()
  const like = page.getByRole('region', { name: 'Likeness of requests' })
  await expect(like.getByRole('img', { name: /arrivals a second in each hour of/ })).toBeVisible()
  const week = like.getByRole('listitem').filter({ hasText: 'hours and days: up to' })
  await expect(week.getByRole('button')).toHaveText('taken')
  await week.getByRole('button').click()
  await expect(week.getByRole('button')).toHaveText('left out')
  await week.getByRole('button').click()
  await expect(week).toContainText('no Thursday, no Friday')
  await change(page, /^Times its rate/, '2')
  await page.getByRole('button', { name: 'begin this plan' }).click()
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Like three-days.csv')
  await settled(page)
  await expect(verdict(page)).toContainText(/Rent\s*1 × .* a month/)
  await expect(page.getByText('Its rate follows the days of the week and the hours of the day.')).toBeVisible()
  expect(asked.length).toBeGreaterThan(0)
  expect(said).toEqual([])
  expect(failures).toEqual([])
})

test('a metrics history becomes a plan: which metric is what is told and said otherwise, and what is within a step is said to be unknown', async ({
  page,
}) => {
  await page.goto('/load')
  await expect(verdict(page)).toContainText('Rent')
  // Eight days by steps of five minutes: two routes, busy by day; the server was begun anew in the middle.
  const series = [
    ['calls_total', 'desk', 3],
    ['calls_total', 'letters', 0.5],
    ['words_in_total', 'desk', 1500],
    ['words_in_total', 'letters', 2000],
  ].map(([name, route, rate]) => {
    let shown = 0
    const values = Array.from({ length: 8 * 288 }, (_, i) => {
      const hour = (i / 12) % 24
      shown = i === 1000 ? 0 : shown + Number(rate) * 300 * (hour >= 8 && hour < 18 ? 1 : 0.1)
      return [1803945600 + i * 300, String(shown)]
    })
    return { metric: { __name__: name, route, instance: 'a' }, values }
  })
  const text = JSON.stringify({ status: 'success', data: { resultType: 'matrix', result: series } })
  await drop(page, 'last-week.json', text)
  const report = page.getByRole('region', { name: 'Metrics history' })
  await expect(report).toContainText('a metrics history of 2 metrics over 8 d, by steps of 5 min')
  await expect(report).toContainText('requests that arrive: calls_total')
  await expect(report).toContainText('prompts: not in this history; those of the opening are taken')
  await choose(page, /^Which metric is prompt tokens/, 'words_in_total')
  await expect(report).toContainText('500 tokens on average')
  await expect(page.getByRole('region', { name: 'Likeness of letters' })).toContainText(/4\s000 tokens on average/)
  await expect(report).toContainText('how unevenly requests come within a step is unknown')
  await page.getByRole('button', { name: 'begin this plan' }).click()
  await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText('Like last-week.json')
  await expect(page.getByRole('complementary', { name: 'Plan' })).toContainText('desk sends up to 3')
  // What is no such answer is told.
  await drop(page, 'broken.json', '{"status":"error","errorType":"bad_data","error":"unknown function"}')
  await expect(page.getByRole('alert')).toContainText('bad_data: unknown function')
})
