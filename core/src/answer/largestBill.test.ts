import { describe, expect, it } from 'vitest'
import { skerrySound } from '../../../examples/make/skerrySound.ts'
import { boughtPlan, livingPlan } from '../../test/smallPlan.ts'
import { enumerate } from '../candidate/enumerate.ts'
import { isByCall } from '../cost/purchase.ts'
import { checkPlan } from '../plan/read.ts'
import { RandomStream } from '../random/stream.ts'
import { wholeRun } from '../run/wholeRun.ts'
import { Load } from '../search/load.ts'
import { largestBill, largestBillWords } from './largestBill.ts'

const [talk, , eyes] = skerrySound.services

describe('the largest bill that is possible', () => {
  it('is reckoned by hand: a fixed number, the maximum of a policy, calls at the ceiling all month, calls that a rate limit lets through', () => {
    const pebble = enumerate(skerrySound, talk).find((c) => c.fit.fits && c.purchase.kind === 'on-demand' && c.policy === null)!
    const disk = pebble.prices.storagePerHour
    expect(largestBill(skerrySound, pebble, 3)).toMatchObject({ carriedBy: 'fixed number', machines: 3 })
    expect(largestBill(skerrySound, pebble, 3).perMonth).toBeCloseTo(3 * (pebble.machine.pricePerHour! + disk) * 730, 6)
    const by = enumerate(skerrySound, talk).find((c) => c.fit.fits && c.purchase.kind === 'on-demand' && c.policy?.max === 6)!
    const groups = Math.ceil(6 / by.group.replicas)
    expect(largestBill(skerrySound, by, by.maxGroups)).toMatchObject({ carriedBy: 'maximum of the policy', calls: null })
    expect(largestBill(skerrySound, by, by.maxGroups).perMonth).toBeCloseTo(
      groups * (by.prices.onDemandPerHour + by.prices.storagePerHour) * 730,
      6,
    )
    const call = enumerate(skerrySound, eyes).find((c) => c.fit.fits && isByCall(c.purchase) && c.sequences === 1)!
    if (!call.fit.fits || !call.prices.calls) throw new Error('it sells calls')
    const profile = call.fit.profile({ sequences: 1 })
    if (profile.kind !== 'batch') throw new Error('the eye works in batches')
    const seconds = 730 * 3600
    const calls = (call.maxGroups * call.group.replicas * seconds) / (profile.baseSeconds[1] + profile.secondsPerWorkUnit[1])
    const { perCall, perGigabyteSecond, gigabytes, freeCallsPerMonth, freeGigabyteSecondsPerMonth } = call.prices.calls
    const cost = (n: number) =>
      (n - freeCallsPerMonth) * perCall +
      (call.maxGroups * call.group.replicas * seconds * gigabytes - freeGigabyteSecondsPerMonth) * perGigabyteSecond
    const bill = largestBill(skerrySound, call, call.maxGroups)
    expect(bill.calls! / calls).toBeCloseTo(1, 9)
    expect(bill.perMonth / cost(calls)).toBeCloseTo(1, 9)
    const limited = checkPlan({
      ...skerrySound,
      classes: skerrySound.classes.map((c) => ({ ...c, rateLimit: { unit: 'requests' as const, perSecond: 0.5, burst: 5 } })),
    })
    const less = largestBill(limited, call, call.maxGroups)
    expect([less.carriedBy, less.calls]).toEqual(['rate limits', 0.5 * seconds])
    expect(less.perMonth / cost(0.5 * seconds)).toBeCloseTo(1, 9)
    // One by caller bounds nothing: strangers are more callers.
    const byCaller = checkPlan({
      ...limited,
      classes: limited.classes.map((c) => ({ ...c, rateLimit: { ...c.rateLimit!, callers: { count: 200 } } })),
    })
    expect(largestBill(byCaller, call, call.maxGroups)).toEqual(bill)
    expect(largestBillWords(less, less.perMonth / 4, 'EUR').join(' ')).toContain('4.00 times what is expected')
  })

  it('is never below what any run costs, but for starts and the minutes in which two are paid', () => {
    const random = new RandomStream(6, 'largest')
    let seen = 0
    for (let n = 0; n < 10; n++)
      for (const plan of [livingPlan(random, n), boughtPlan(random, n)]) {
        const [service] = plan.services
        const tried = enumerate(plan, service).filter((c) => c.fit.fits && c.maxGroups > 0)
        for (const candidate of tried.slice(0, 4)) {
          const bill = largestBill(plan, candidate, candidate.elastic ? candidate.maxGroups : 1)
          if (bill.overlaps || bill.fetches) continue
          const spec = { service: candidate.service, candidate, groups: candidate.elastic ? candidate.maxGroups : 1 }
          const { perHour } = wholeRun(plan, spec, new Load(plan).of(service, 0))
          expect(perHour * 730, JSON.stringify(bill)).toBeLessThanOrEqual(bill.perMonth * (1 + 1e-9))
          seen++
        }
      }
    expect(seen).toBeGreaterThan(10)
  })
})
