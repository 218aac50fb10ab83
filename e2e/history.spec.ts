import { expect, test } from '@playwright/test'
import { monitored, RATES } from './monitoring.ts'
import { change, choose, commandText, kept, verdict } from './support.ts'

test('a real monitoring server is asked for its history, in the page and on the command line, and both begin the same load', async ({
  page,
}) => {
  const { address, end } = await monitored()
  try {
    await page.goto('/load')
    await expect(verdict(page)).toContainText('Rent')
    // Another machine is not asked unless the server was started for it.
    await change(page, /^Address of the monitoring server/, 'http://metrics.example:9090')
    await page.getByRole('button', { name: 'ask it' }).click()
    await expect(page.getByRole('alert')).toContainText('say --allow-host metrics.example at the start')
    await change(page, /^Address of the monitoring server/, address)
    await change(page, /^Which metrics it is asked for/, '{job="world",__name__!~"scrape.*|up"}')
    await change(page, /^How far back/, '3 d')
    await page.getByRole('button', { name: 'ask it' }).click()
    const report = page.getByRole('region', { name: 'Metrics history' })
    await expect(report).toContainText(/a metrics history of 2\smetrics over .*, by steps of 5\smin/)
    await expect(report).toContainText('requests that arrive: calls_total')
    await choose(page, /^Which metric is prompt tokens/, 'words_in_total')
    await expect(report).toContainText('500 tokens on average')
    // How uneven it is within a step is not in it: it is assumed, and what the answer owes to it is said there.
    await change(page, /^Variation of the gaps within a step/, '3')
    await page.getByRole('button', { name: 'begin this plan' }).click()
    await expect(page.getByRole('button', { name: 'Plans and files' })).toHaveText(/^Like 127\.0\.0\.1/)
    const select = [
      '--select',
      '{job="world",__name__!~"scrape.*|up"}',
      '--past',
      '3 d',
      '--metrics',
      'input=words_in_total',
      '--variation',
      '3',
    ]
    const begun = commandText('begin', '--from', address, ...select, '--json')
    const { classes } = JSON.parse(begun) as { classes: { name: string; arrivals: { ratePerSecond: number; bursts?: unknown } }[] }
    const plans = async () => (await kept(page, 'plans')).map((p) => JSON.parse(String(p.text)) as { name: string; classes: unknown })
    await expect.poll(async () => (await plans()).find((p) => p.name.startsWith('Like 127'))?.classes).toEqual(classes)
    // The world as it was made, though its counters began anew in the middle.
    expect(classes.map((c) => c.name).sort()).toEqual(['desk', 'letters'])
    for (const { name, arrivals } of classes) {
      const busiest = name === 'desk' ? RATES.desk(12) : RATES.letters()
      expect(arrivals.ratePerSecond / busiest).toBeCloseTo(1, 1)
      expect(arrivals.bursts).toEqual({ kind: 'gamma', variation: 3 })
    }
  } finally {
    await end()
  }
})
