import { interval95, Load, readings, run, specOf, type Answer } from '@sandclock/core'
import { readFileSync } from 'node:fs'
import { brotliDecompressSync } from 'node:zlib'
import { expect, it } from 'vitest'

/** Kept so that nobody waits for it at the first start; whether it is current is checked when the application is built. */
const answer = JSON.parse(brotliDecompressSync(readFileSync('examples/skerry-sound-answer/demo-answer.json.br')).toString()) as Answer

it.each(answer.services.map((s) => [s.service, s] as const))(
  'what the kept answer of the demo rents for %s keeps its promises as it says, run again over its draws',
  (_, { service, chosen }) => {
    const { plan } = answer
    const spec = chosen && specOf(plan, service, chosen, chosen.machines)
    if (!spec) throw new Error('the demo has an answer for every service')
    const load = new Load(plan, undefined)
    const draws = Array.from({ length: plan.repetitions }, (_, repetition) => {
      const { record } = run(plan, spec, load.of(spec.service, repetition), { repetition, toTheEnd: true })
      return readings(plan, spec.service, record).map((r) => r.value ?? NaN)
    })
    const means = chosen.targets.map((_, i) => interval95(draws.map((d) => d[i]))?.mean)
    expect(chosen.targets.map((t) => t.interval?.mean)).toEqual(means)
  },
)
