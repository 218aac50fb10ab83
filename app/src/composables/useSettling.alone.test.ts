// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, reactive } from 'vue'
import { useSettling } from './useSettling.ts'

/** What was asked of the stores, in order. */
let asked: string[] = []
const route = reactive({ path: '/load' })
const plans = reactive({ id: 'a', plan: { name: 'first' }, opened: false })
const answers = reactive({
  answer: null as object | null,
  place: 'here',
  onServer: false,
  answerTo: (_: string, plan: { name: string }) => asked.push(`answer ${plan.name}`),
  again: (_: string, plan: { name: string }) => asked.push(`again ${plan.name} ${answers.place}`),
})
const log = { missing: false }

vi.mock('@sandclock/core', () => ({ needsLog: () => log.missing }))
vi.mock('vue-router', () => ({ useRoute: () => route }))
vi.mock('../stores/planStore.ts', () => ({ usePlanStore: () => plans }))
vi.mock('../stores/answerStore.ts', () => ({ useAnswerStore: () => answers }))
vi.mock('../stores/viewStore.ts', () => ({
  useViewStore: () => ({ setPlan: (plan: { name: string }) => asked.push(`draw ${plan.name}`) }),
}))
vi.mock('../stores/logStore.ts', () => ({ useLogStore: () => ({ logFor: () => Promise.resolve(undefined) }) }))

describe('pictures and answer follow the open plan', () => {
  let settling: ReturnType<typeof useSettling>
  let page: ReturnType<typeof mount>
  const changed = async (name: string) => {
    plans.plan = { name }
    await nextTick()
    await vi.advanceTimersByTimeAsync(0)
  }

  beforeEach(() => {
    vi.useFakeTimers()
    asked = []
    Object.assign(plans, { plan: { name: 'first' }, opened: false })
    Object.assign(answers, { answer: null, place: 'here', onServer: false })
    Object.assign(route, { path: '/load' })
    log.missing = false
    page = mount({ template: '<i/>', setup: () => void (settling = useSettling()) })
  })
  afterEach(() => {
    page.unmount()
    vi.useRealTimers()
  })

  it('but not before one is opened', async () => {
    await changed('too early')
    expect(asked).toEqual([])
    plans.opened = true
    await changed('second')
    expect(asked).toEqual(['draw second', 'answer second'])
  })

  it('at once where one was opened before this began', async () => {
    page.unmount()
    Object.assign(plans, { opened: true })
    page = mount({ template: '<i/>', setup: () => void (settling = useSettling()) })
    await vi.advanceTimersByTimeAsync(0)
    expect(asked).toEqual(['draw first', 'answer first'])
  })

  it('the answer first where only it is looked at, and the pictures as soon as one is gone to', async () => {
    Object.assign(plans, { opened: true })
    Object.assign(answers, { answer: {} })
    route.path = '/answer'
    await changed('second')
    expect(asked).toEqual(['answer second'])
    route.path = '/run'
    await nextTick()
    expect(asked).toEqual(['answer second', 'draw second'])
    await vi.advanceTimersByTimeAsync(10_000)
    expect(asked).toHaveLength(2)
  })

  it('and after a while even if nobody goes there', async () => {
    Object.assign(plans, { opened: true })
    Object.assign(answers, { answer: {} })
    route.path = '/compare'
    await changed('second')
    await vi.advanceTimersByTimeAsync(10_000)
    expect(asked).toEqual(['answer second', 'draw second'])
  })

  it('not without the log that the plan is made of', async () => {
    Object.assign(plans, { opened: true })
    log.missing = true
    await changed('second')
    expect(asked).toEqual([])
  })

  it('begin anew at the other place when the search is moved', async () => {
    Object.assign(answers, { onServer: false })
    settling.moveSearch()
    await vi.advanceTimersByTimeAsync(0)
    Object.assign(answers, { onServer: true })
    settling.moveSearch()
    await vi.advanceTimersByTimeAsync(0)
    expect(asked.filter((a) => a.startsWith('again'))).toEqual(['again first server', 'again first here'])
  })
})
