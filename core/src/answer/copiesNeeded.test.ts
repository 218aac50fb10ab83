import { describe, expect, it } from 'vitest'
import { livingPlan, smallPlan } from '../../test/smallPlan.ts'
import type { Candidate } from '../candidate/candidate.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { isByCall } from '../cost/purchase.ts'
import { allHold, readings } from '../measure/placedTargets.ts'
import { RandomStream } from '../random/stream.ts'
import { run } from '../run/run.ts'
import { driveHere } from '../search/drive.ts'
import { Load } from '../search/load.ts'
import { copiesNeeded } from './copiesNeeded.ts'
import { recommend } from './recommend.ts'

const last = <T>(of: Iterable<T>) => [...of].at(-1)

describe('copies for more load', () => {
  it('are the fewest that hold: with them every promise is kept on the first draw, with one group less it is not', () => {
    const random = new RandomStream(12, 'copies')
    const seen = { rows: 0, beyond: 0 }
    for (let n = 0; n < 8; n++)
      for (const of of [smallPlan(random, n), livingPlan(random, n)]) {
        const plan = n % 2 === 0 ? of : { ...of, machines: of.machines.map((m) => ({ ...m, stock: Math.min(2, m.stock) })) }
        const [service] = plan.services
        const load = new Load(plan)
        const { chosen } = driveHere(recommend(plan, load), load).services[0]
        const on = (c: Candidate) => !chosen || (c.machine.name === chosen.machine && c.devices === chosen.devices)
        for (const candidate of enumerate(plan, service)
          .filter((c) => c.fit.fits && c.maxGroups > 0 && c.policy === null && on(c))
          .slice(0, 2)) {
          const spec = { service: candidate.service, candidate, groups: 1 }
          const report = last(copiesNeeded(plan, spec, load))
          if (!report) {
            expect(isByCall(candidate.purchase)).toBe(true)
            continue
          }
          for (const { multiple, needed } of report.rows) {
            const holds = (groups: number) => {
              const ran = run(plan, { ...spec, groups }, load.multiplied(service, multiple), { toTheEnd: true })
              return allHold(plan, service, readings(plan, service, ran.record))
            }
            if (!needed) {
              expect(holds(candidate.maxGroups)).toBe(false)
              seen.beyond++
              continue
            }
            const groups = needed.machines / candidate.group.machines
            expect(holds(groups)).toBe(true)
            if (groups > 1) expect(holds(groups - 1)).toBe(false)
            seen.rows++
          }
        }
      }
    expect(seen.rows, JSON.stringify(seen)).toBeGreaterThan(5)
    expect(seen.beyond, JSON.stringify(seen)).toBeGreaterThan(2)
  })

  it('of a fixed number that the search proved for its one draw are that number', () => {
    const random = new RandomStream(13, 'copies')
    let seen = 0
    for (let n = 0; n < 8; n++) {
      const plan = { ...smallPlan(random, n), repetitions: 1 }
      const [service] = plan.services
      const load = new Load(plan)
      const { chosen } = driveHere(recommend(plan, load), load).services[0]
      const candidate =
        chosen &&
        enumerate(plan, service).find(
          (c) =>
            c.machine.name === chosen.machine &&
            c.variant.name === chosen.variant &&
            c.devices === chosen.devices &&
            c.sequences === chosen.sequences &&
            c.policy === null,
        )
      if (!chosen || !candidate || chosen.policy !== null || chosen.setting !== null || chosen.purchase.kind !== candidate.purchase.kind)
        continue
      const [row] = last(copiesNeeded(plan, { service: candidate.service, candidate, groups: 1 }, load))?.rows ?? []
      expect(row.needed?.machines).toBe(chosen.machines)
      expect(row.needed?.perMonth).toBeCloseTo(chosen.money.perMonth, 6)
      seen++
    }
    expect(seen).toBeGreaterThan(2)
  })
})
