import {
  checkPlan,
  fitHistory,
  fitLog,
  guessRoles,
  howToAskJsonSchema,
  planJsonSchema,
  readHistory,
  readPlan,
  readPlanYaml,
  readRequestLog,
  writePlan,
} from '@sandclock/core'
import { readFileSync } from 'node:fs'
import { gunzipSync } from 'node:zlib'
import { describe, expect, it } from 'vitest'
import { byTokens } from '../examples/make/byTokens.ts'
import { happenedExample } from '../examples/make/happened.ts'
import { startLog } from '../examples/make/startLog.ts'
import { exampleHistory } from '../examples/make/history.ts'
import { exampleLog } from '../examples/make/log.ts'
import { measuredExample } from '../examples/make/measured.ts'
import { oneConfiguration } from '../examples/make/oneConfiguration.ts'
import { skerrySound } from '../examples/make/skerrySound.ts'
import { openingFiles } from '../examples/make/openings.ts'
import { waysPage } from '../examples/make/waysPage.ts'

const text = (file: string) => readFileSync(file, 'utf8')

describe('files that are made from code are current (npm run examples makes them)', () => {
  it('the plans', () => {
    expect(text('examples/skerry-sound.json')).toBe(writePlan(checkPlan(skerrySound)))
    expect(text('examples/one-configuration.json')).toBe(writePlan(checkPlan(oneConfiguration)))
    expect(text('examples/tokens-or-machines.json')).toBe(writePlan(checkPlan(byTokens)))
    expect(readPlan(text('examples/skerry-sound.json')).classes).toHaveLength(3)
    expect(readPlan(text('examples/one-configuration.json')).services[0].configuration?.replicas).toBe(2)
  })

  it('the measured requests', () => expect(text('examples/curlew-measured.csv')).toBe(measuredExample()))

  it('the log of start-ups', () => expect(readFileSync('examples/skerry-sound-starts.csv', 'utf8')).toBe(startLog()))

  it('the log of what happened', () =>
    expect(gunzipSync(readFileSync('examples/one-configuration-happened.csv.gz')).toString()).toBe(happenedExample()))

  it('the JSON Schemas', () => {
    expect(JSON.parse(text('docs/plan.schema.json'))).toEqual(planJsonSchema())
    expect(JSON.parse(text('docs/how-to-ask.schema.json'))).toEqual(howToAskJsonSchema())
  })

  it.each(openingFiles())('the opening %s, which is a plan', (name, made) => {
    expect(text(`examples/openings/${name}.yaml`)).toBe(made)
    expect(readPlanYaml(made).classes).toHaveLength(1)
  })

  it('the page of choices', () => {
    expect(text('docs/ways.md')).toBe(waysPage())
  })

  it('the metrics history, in which the week of the log is found again', async () => {
    const there = text('examples/skerry-sound-history.json')
    expect(there).toBe(exampleHistory())
    const { metrics } = readHistory([{ name: 'history', text: there }])
    const fit = fitHistory(metrics, guessRoles(metrics))
    const log = fitLog(await readRequestLog([{ name: 'log', bytes: readFileSync('examples/skerry-sound-log.csv.gz') }]))
    expect(fit.classes.map((c) => c.name)).toEqual(log.classes.map((c) => c.name))
    fit.classes.forEach((c, i) => {
      // It was begun anew just after a sample, so that nothing is lost.
      expect(c.count).toBeCloseTo(log.classes[i].count, 6)
      expect(c.unsaid).toEqual([])
    })
  })

  it('the request log: the same from the same seed, at least 200,000 requests, all of them readable', async () => {
    const bytes = readFileSync('examples/skerry-sound-log.csv.gz')
    const there = gunzipSync(bytes).toString()
    expect(there).toBe(exampleLog())
    const log = await readRequestLog([{ name: 'skerry-sound-log.csv.gz', bytes }])
    expect(log.requests.count).toBeGreaterThanOrEqual(200_000)
    expect(log.badRowCount).toBe(0)
  })
})
