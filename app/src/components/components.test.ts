// @vitest-environment happy-dom
import {
  checkPlan,
  driveHere,
  Load,
  observedRun,
  recommend,
  sizedKey,
  specOf,
  tellRun,
  type FrontierPoint,
  type LateSums,
  type Plan,
  type SoFar,
} from '@sandclock/core'
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { demoPlan } from '../data/demo.ts'
import { setPolicy } from '../edits/edits.ts'
import FrontierPlot from './answer/FrontierPlot.vue'
import RejectedList from './answer/RejectedList.vue'
import ServiceVerdict from './answer/ServiceVerdict.vue'
import VerdictLine from './frame/VerdictLine.vue'
import Glass from './glass/Glass.vue'
import RunFigures from './run/RunFigures.vue'
import ClassWords from './sentence/ClassWords.vue'
import PolicyWords from './sentence/PolicyWords.vue'

const ON_DEMAND = { kind: 'on-demand', safeShare: 1 } as const

/** The pilot desk for an hour and a half: a real answer in a moment. */
const plan: Plan = {
  ...demoPlan,
  repetitions: 2,
  horizon: { ...demoPlan.horizon, seconds: 5400, warmupSeconds: 600 },
  classes: [{ ...demoPlan.classes[0], arrivals: { kind: 'steady', ratePerSecond: 0.7 } }],
  services: [{ ...demoPlan.services[0], search: { sequences: [16], devices: [1, 2] } }],
}
const load = new Load(plan)
const answer = driveHere(recommend(plan, load), load)
const [service] = answer.services
const words = (text: string) => text.replaceAll(/[\s\u00a0\u202f]+/g, ' ')

describe('VerdictLine', () => {
  const nothingYet: SoFar = { services: [], perHour: null, leastPerHour: null, apart: false, proved: false }
  const line = (props: object) =>
    mount(VerdictLine, {
      props: { answer, currency: 'EUR', stale: false, stopped: false, failure: '', soFar: nothingYet, working: null, ...props },
    })

  it('says what to rent, for how much, what is tightest, what breaks it and how sure that is', () => {
    const text = words(line({}).text())
    expect(text).toMatch(/Rent\s?\d+ × .+ for [\d .]+ EUR a month/)
    expect(text).toMatch(
      /Tightest: pilot desk, p95 T[TP][FO]T .+ of .+ to spare\)\. With \d\.\d\d × the load pilot desk is the first whose promise breaks\. Meets, sure at 95 % over 2 independent draws\./,
    )
  })

  it('keeps the old one, marked, while it works, and shows true progress', async () => {
    const wrapper = line({ stale: true, working: { settled: 30, total: 120, simulations: 44, doing: 'pilot talk', leftSeconds: 12.2 } })
    expect(words(wrapper.text())).toContain('Before your change: rent')
    expect(words(wrapper.text())).toContain('30 of 120 options settled, 44 simulations, about 12.2 s left')
    await wrapper.get('button').trigger('click')
    expect(wrapper.emitted('stop')).toHaveLength(1)
  })

  it('says what holds so far and below what nothing can, then that it is proved, and keeps it when it is stopped', async () => {
    const best = {
      service: 'pilot talk',
      machine: 'Northquay ledge',
      machines: 3,
      policy: 'follows the tide',
      purchase: ON_DEMAND,
      perHour: 4,
      known: 'held' as const,
    }
    const soFar: SoFar = { services: [best], perHour: 4, leastPerHour: 2, apart: false, proved: false }
    const wrapper = line({
      stale: true,
      soFar,
      working: { settled: 30, total: 120, simulations: 44, doing: 'pilot talk', leftSeconds: null },
    })
    expect(words(wrapper.text())).toMatch(
      /So far: rent ?up to 3 × Northquay ledge for about 2 920 EUR a month ?It holds every target on one draw of the load. Nothing below 1 460 EUR a month can. Before your change it was/,
    )
    await wrapper.setProps({ working: null, stopped: true })
    expect(words(wrapper.text())).toMatch(
      /Stopped; the best so far: ?up to 3 × Northquay ledge for about 2 920 EUR a month ?It holds every target on one draw of the load. Nothing below 1 460 EUR a month can/,
    )
    await wrapper.setProps({ stopped: false, soFar: { ...soFar, services: [{ ...best, known: 'proved' }], leastPerHour: 4, proved: true } })
    expect(words(wrapper.text())).toMatch(
      /Rent ?up to 3 × Northquay ledge for 2 920 EUR a month ?Nothing cheaper holds; the next best are being found/,
    )
    await wrapper.setProps({ soFar: { ...soFar, apart: true } })
    expect(words(wrapper.text())).toContain('Nothing below 1 460 EUR a month can, each service by itself.')
  })

  it('says so when nothing holds', () => {
    const none = { ...answer, meets: false, services: [{ ...service, chosen: null }] }
    expect(words(line({ answer: none }).text())).toContain('Nothing holds every target for pilot talk')
  })
})

describe('ServiceVerdict', () => {
  it('gives every promise its limit, value, interval and head-room', () => {
    const wrapper = mount(ServiceVerdict, { props: { answer: service, plan, currency: 'EUR' } })
    const rows = wrapper.findAll('tbody tr').map((r) => words(r.text()))
    expect(rows).toHaveLength(3)
    expect(rows[0]).toMatch(/pilot desk, p95 TTFT of the worst hour\s?600 ms.*ms – .*ms.*%\s?meets/)
    expect(words(wrapper.text())).toContain('Its step costs are derived from the shape of the model')
  })
})

describe('RejectedList', () => {
  it('groups by rule, counts, and finds by word', async () => {
    const wrapper = mount(RejectedList, { props: { rejected: service.rejected } })
    const shown = () => wrapper.findAll('summary strong').reduce((sum, s) => sum + Number(s.text()), 0)
    const all = shown()
    // Each option counts, also where a line stands for several.
    expect(all).toBe(service.rejected.length)
    await wrapper.get('input').setValue('no 8-bit arithmetic')
    expect(shown()).toBeGreaterThan(0)
    expect(shown()).toBeLessThan(all)
  })
})

describe('FrontierPlot', () => {
  const point = (machines: number, perHour: number, strain: number | null): FrontierPoint => ({
    machine: 'Northquay ledge',
    provider: 'Northquay',
    region: 'north',
    variant: '8-bit',
    devices: 1,
    sequences: 16,
    policy: null,
    purchase: ON_DEMAND,
    setting: null,
    machines,
    perHour,
    strain,
    tightest: 0,
    value: strain === null ? null : strain * 0.54,
    holds: strain !== null && strain <= 1,
  })
  const plot = () =>
    mount(FrontierPlot, {
      props: {
        points: [point(1, 1.94, null), point(2, 3.88, 0.8), point(3, 5.82, 0.5)],
        targets: [{ className: 'pilot desk', target: plan.classes[0].targets[0] }],
        currency: 'EUR',
        chosen: sizedKey(point(2, 3.88, 0.8)),
        height: 200,
        dust: { places: Int32Array.of(0), perHour: Float64Array.of(2.2), strain: Float64Array.of(0.25) },
        rejected: [
          {
            machine: 'Tarn tiny',
            provider: 'Tarn',
            region: 'upland',
            variant: '4-bit',
            devices: 1,
            sequences: 32,
            policy: null,
            purchase: ON_DEMAND,
            setting: null,
            rejection: { kind: 'dearer-bound', machines: 2, perHour: 2.2, thanPerHour: 2 },
            reason: 'it costs too much',
            leastPerHour: 2.2,
            leastStrain: 0.25,
          },
        ],
      },
    })

  it('says in words what is chosen, and walks the options by key', async () => {
    const wrapper = plot()
    expect(words(wrapper.text())).toContain(
      'Chosen: 2 × Northquay ledge, 8-bit, 16 side by side: 2 832 EUR a month, pilot desk p95 TTFT of the worst hour 432 ms, holds.',
    )
    await wrapper.get('[role=group]').trigger('keydown', { key: 'ArrowLeft' })
    expect(words(wrapper.text())).toContain('pilot desk p95 TTFT of the worst hour not reached, misses.')
    await wrapper.get('[role=group]').trigger('keydown', { key: 'ArrowUp' })
    expect(words(wrapper.text())).toContain(
      'Tarn tiny, 4-bit, 32 side by side: no less than 1 606 EUR a month, and at its best 0.25 times the limit. Ruled out: it costs too much.',
    )
  })

  it('does not say of a promise that nothing counts for that it holds', async () => {
    const wrapper = plot()
    await wrapper.setProps({ points: [{ ...point(2, 3.88, 0), value: null }] })
    expect(words(wrapper.text())).toContain('pilot desk p95 TTFT of the worst hour no data, not measured.')
  })
})

describe('PolicyWords', () => {
  const policy = demoPlan.services[0].policies![0]
  const prose = (p = policy) => mount(PolicyWords, { props: { policy: p, taken: [p.name], service: 'pilot talk' } })
  it('tells a policy in words, and changes it in place', async () => {
    const wrapper = prose()
    expect(words(wrapper.text())).toBe(
      'follows the tide: between 1 and 6 copies, by requests in flight of 10 each; fewer only after 10 min (add a window, let it sleep, or take it out)',
    )
    await wrapper.get('[aria-label^="Maximum of follows the tide"]').trigger('keydown', { key: 'ArrowUp' })
    expect(wrapper.emitted('change')?.[0]).toEqual([{ ...policy, max: 7 }])
    await wrapper.findAll('button').at(-1)?.trigger('click')
    expect(wrapper.emitted('remove')).toHaveLength(1)
  })
  it('says what goes to zero, is scheduled or looks ahead', () => {
    const all = prose({
      name: 'p',
      min: 0,
      max: 3,
      idle: { seconds: 1800, firstCaller: 'hold' },
      ahead: { from: 'plan', perReplica: 2, leadSeconds: 60 },
      schedule: [{ days: [1], from: '07:00', until: '18:00', min: 2 }],
    })
    expect(words(all.text())).toContain(
      'between 0 and 3 copies, at least 2 on Mondays from 07:00 to 18:00 (take out), ahead of what the plan expects, none after 30 min without a request, the first caller held until one is ready',
    )
    expect(all.text()).not.toMatch(/ [,.:;]/)
  })
})

describe('a policy made in the interface', () => {
  it('gets a window, sleeps and is kept awake, and is a plan each time', async () => {
    const policy = demoPlan.services[0].policies![0]
    const wrapper = mount(PolicyWords, { props: { policy, taken: [policy.name], service: 'pilot talk' } })
    await wrapper.get('[aria-label^="Add a window"]').trigger('click')
    await wrapper.get('[aria-label^="Let"]').trigger('click')
    const changes = (wrapper.emitted('change') ?? []).map(([p]) => p as typeof policy)
    expect(changes[0].schedule).toEqual([{ days: [1, 2, 3, 4, 5], from: '07:00', until: '19:00', min: 2 }])
    expect(changes[1]).toMatchObject({ min: 0, idle: { seconds: 1800, firstCaller: 'hold' } })
    for (const changed of changes) checkPlan(setPolicy('pilot talk', policy.name, changed)(demoPlan))
    await wrapper.setProps({ policy: { ...changes[0], ...changes[1], schedule: changes[0].schedule! } })
    await wrapper.get('[aria-label^="Keep"]').trigger('click')
    await wrapper.get('[aria-label^="Take window 1"]').trigger('click')
    const later = (wrapper.emitted('change') ?? []).slice(2).map(([p]) => p as typeof policy)
    expect(later[0]).toMatchObject({ min: 1 })
    expect(later[0].idle).toBeUndefined()
    expect(later[1].schedule).toBeUndefined()
  })
})

describe('ClassWords', () => {
  const prose = (requestClass: Plan['classes'][number]) =>
    mount(ClassWords, { props: { plan: demoPlan, requestClass, colour: 'var(--water)' } })

  it('reads as a sentence without stray spaces', () => {
    const text = words(prose(demoPlan.classes[0]).text())
    expect(text).toContain(
      'pilot desk sends up to 1.93 a second, 4 × that from Thu 18:00 (3 d 18 h in) for 4 h 30 min (take out): prompts of 520 tokens (95 of 100 under 1 700), answers of 380 tokens',
    )
    expect(text).toContain(
      'It is promised the first token within 600 ms for 95 of 100 even in the worst hour, each further token within 45 ms for 95 of 100 even in the worst hour and at most 0.2 % lost. Callers leave after 20 s.',
    )
    expect(text).not.toMatch(/ [,.:]/)
  })

  it('turns a changed figure into an edit of the plan', async () => {
    const wrapper = prose(demoPlan.classes[0])
    await wrapper.get('button[aria-label^="Patience"]').trigger('keydown', { key: 'ArrowUp' })
    const [[edit]] = wrapper.emitted('edit') as [[(p: Plan) => Plan]]
    expect(edit(demoPlan).classes[0].patienceSeconds).toBe(22)
  })
})

describe('RunFigures', () => {
  const { chosen } = service
  if (!chosen) throw new Error('the plan of these tests has an answer')
  const spec = specOf(plan, plan.services[0].name, chosen, chosen.machines)
  if (!spec) throw new Error('the chosen option is a candidate')
  const observed = observedRun(plan, spec, load.of(plan.services[0], 0))
  const told = tellRun(plan, spec, observed)
  const view = (late: LateSums) =>
    mount(RunFigures, { props: { plan, cursorSeconds: 0, run: told.run, remarks: ['Beware.'], late, window: 'In the time shown' } })

  it('has every measure with its worst hour, what was served, and what one should know', () => {
    const wrapper = view({ late: 0, lost: 0, machineSeconds: 0, startUpSeconds: 0, queueSeconds: 0, othersSeconds: 0, ownSeconds: 0 })
    expect(wrapper.findAll('tbody tr').map((r) => r.findAll('td')[1].text())).toEqual(['wait', 'TTFT', 'TPOT', 'latency'])
    const text = words(wrapper.text())
    expect(text).toMatch(
      /It serves 0\.\d+ requests a second, \d+ prompt and \d+ answer tokens a second\. Its replicas have something to do [\d.]+ % of the time/,
    )
    expect(text).toMatch(/from Mon 0[01]:00/)
    expect(text).toContain('Beware.')
    expect(text).toMatch(/pilot desk: all [\d ]+ callers found a ready replica/)
    expect(text).toContain('In the time shown no request was late.')
  })

  it('splits late time to scale', () => {
    const wrapper = view({ late: 4, lost: 0, machineSeconds: 0, startUpSeconds: 0, queueSeconds: 6, othersSeconds: 3, ownSeconds: 3 })
    expect(words(wrapper.text())).toMatch(
      /4 requests were late\. They took 3\.00 s each:\s*in the queue 50\.0 %\s*held up by others 25\.0 %\s*own work 25\.0 %/,
    )
    expect(wrapper.findAll('[aria-hidden] > div').map((d) => (d.element as HTMLElement).style.width)).toEqual(['50%', '25%', '25%'])
  })
})

describe('Glass', () => {
  it('fills with what waits above and what is in service below; a dashed outline is not ready', () => {
    const wrapper = mount(Glass, { props: { waiting: 0.5, inService: 2, ready: false, label: 'Replica 1' } })
    const [upper, lower] = wrapper.findAll('rect')
    expect(Number(upper.attributes('height'))).toBe(6.5)
    expect(Number(lower.attributes('height'))).toBe(13)
    expect(wrapper.findAll('path')[2].attributes('stroke-dasharray')).toBe('2 2')
    expect(wrapper.get('title').text()).toBe('Replica 1')
  })
})
