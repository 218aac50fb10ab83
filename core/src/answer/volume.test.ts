import { describe, expect, it } from 'vitest'
import { boughtPlan } from '../../test/smallPlan.ts'
import { checkPlan } from '../plan/read.ts'
import { RandomStream } from '../random/stream.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { Load } from '../search/load.ts'
import { volumeCurves } from './volume.ts'

/** A small plan whose calls cost nothing by themselves, and by the second as much as one tells. */
function planWith(perGigabyteSecond: number, ratePerSecond = 1) {
  const plan = boughtPlan(new RandomStream(9, 'volume'), 2)
  return checkPlan({
    ...plan,
    repetitions: 3,
    classes: plan.classes.map(({ turns: _, patienceSeconds: __, ...c }) => ({
      ...c,
      arrivals: { kind: 'steady' as const, ratePerSecond },
      targets: [{ measure: 'latency' as const, percentile: 80, seconds: 60 }],
    })),
    machines: plan.machines.map((m) => ({
      ...m,
      pricePerRequest: 0,
      pricePerGigabyteSecond: perGigabyteSecond,
      freeRequestsPerMonth: 0,
      billingStepSeconds: 0.001,
      storagePerGigabyteMonth: 0,
      startIsPaid: true,
    })),
  })
}
function last(plan: ReturnType<typeof planWith>) {
  const [service] = plan.services
  const load = new Load(plan)
  const candidate = enumerate(plan, service).find((c) => c.fit.fits && !c.policy && c.purchase.kind === 'committed' && c.maxGroups > 1)!
  return [...volumeCurves(plan, { service, candidate, groups: 1 }, [], load, (p) => new Load(p))].at(-1)!
}

const ALWAYS = [0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 4]

describe('machines against calls over the volume', () => {
  const report = last(planWith(2e-5))

  it('what was simulated lies between all warm and all cold, and both grow with the volume', () => {
    for (const p of report.points) {
      expect(p.called[0]).toBeGreaterThanOrEqual(p.bounds!.warm - 1e-9)
      expect(p.called[0]).toBeLessThanOrEqual(p.bounds!.cold + 1e-9)
    }
    const growing = (of: number[]) => of.every((v, i) => i === 0 || v >= of[i - 1])
    // Volumes a few thousandths apart, between which a crossing is looked for, may differ by chance.
    const always = report.points.filter((p) => ALWAYS.includes(p.multiple))
    expect(always).toHaveLength(ALWAYS.length)
    expect(growing(always.map((p) => p.bounds!.warm))).toBe(true)
    expect(growing(report.points.map((p) => p.callsPerMonth))).toBe(true)
  })

  it('break even lies where the means cross, within its interval', () => {
    const { breakEven, points } = report
    expect(breakEven).not.toBeNull()
    if (!breakEven) return
    expect(breakEven.low).toBeLessThanOrEqual(breakEven.multiple)
    expect(breakEven.high).toBeGreaterThanOrEqual(breakEven.multiple)
    const more = points.map((p) => p.called[0] - (p.alwaysOn[0] ?? NaN))
    const after = points.findIndex((p) => p.multiple >= breakEven.high)
    const before = points.findLastIndex((p) => p.multiple <= breakEven.low)
    expect(more[before]).toBeLessThan(0)
    expect(more[after]).toBeGreaterThan(0)
  })

  it('there is none where calls are far too dear, or nearly free', () => {
    expect(last(planWith(1)).breakEven).toBeNull()
    expect(last(planWith(1e-9)).breakEven).toBeNull()
  })

  it('is found where it lies between two volumes that are always tried, of which the larger has a machine more', () => {
    const { breakEven, points } = last(planWith(8e-6, 20))
    const crosses = (of: typeof points) =>
      points[0].called.map((_, draw) =>
        of.some(
          (p, i) => i > 0 && of[i - 1].called[draw] < (of[i - 1].alwaysOn[draw] ?? NaN) && p.called[draw] >= (p.alwaysOn[draw] ?? NaN),
        ),
      )
    const always = points.filter((p) => ALWAYS.includes(p.multiple))
    expect(crosses(always)).toContain(false)
    expect(crosses(points)).toEqual([true, true, true])
    // Each draw's is the first of its own: below it machines cost more at every volume that was tried.
    const brackets = points[0].called.map((_, draw) => {
      const i = points.findIndex((p) => p.called[draw] >= (p.alwaysOn[draw] ?? Infinity))
      return { below: points[i - 1].multiple, above: points[i].multiple }
    })
    const least = (of: 'below' | 'above') => Math.min(...brackets.map((b) => b[of]))
    expect(breakEven!.low).toBeGreaterThanOrEqual(least('below'))
    expect(breakEven!.low).toBeLessThanOrEqual(least('above'))
    // One machine that is there costs 1.00 times what calls do, somewhere between a tenth and a fifth of the load.
    expect(breakEven?.low).toBeGreaterThan(0.1)
    expect(breakEven?.high).toBeLessThan(0.21)
  })
})
