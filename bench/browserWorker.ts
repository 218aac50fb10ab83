import { simulate } from '@sandclock/core'
import { rules, tokenProfile } from '../core/test/makeProfiles.ts'
import { measure, referenceWork } from './work.ts'

const COUNT = 1_000_000
const WEEK = 20_000_000
/** Replicas that serve the week: as busy as the reference work. */
const REPLICAS = 6

postMessage({ speeds: measure(COUNT) })
const start = performance.now()
const week = referenceWork(WEEK)
const made = performance.now()
const record = simulate(week, rules(REPLICAS, { profile: tokenProfile({ maxSequences: 48, cacheTokens: 120_000 }), horizonSeconds: 2e6 }))
let finished = 0
for (let i = 0; i < week.count; i++) finished += record.outcome[i]
postMessage({ week: { requests: week.count, finished, makeSeconds: (made - start) / 1000, runSeconds: (performance.now() - made) / 1000 } })
