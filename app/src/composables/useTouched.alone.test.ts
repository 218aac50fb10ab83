// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, nextTick, reactive, ref } from 'vue'
import { provideTouched } from './provideTouched.ts'
import { useTouched } from './useTouched.ts'

const plans = reactive({ plan: {} as object })
const answers = reactive({ answer: null as string | null, before: null as string | null, stale: false, working: null as object | null })

vi.mock('@sandclock/core', () => ({ effectWords: (before: string, after: string) => `${before} → ${after}` }))
vi.mock('../stores/planStore.ts', () => ({ usePlanStore: () => plans }))
vi.mock('../stores/answerStore.ts', () => ({ useAnswerStore: () => answers }))

const Figure = defineComponent({
  props: { label: { type: String, required: true } },
  setup(props) {
    const { touch, effect } = useTouched(() => props.label)
    const change = () => {
      touch()
      plans.plan = {}
    }
    return () => h('button', { onClick: change }, effect.value)
  },
})

describe('what a change did stands beside the figure that was changed', () => {
  const labels = ref<string[]>([])
  const page = () =>
    mount({
      setup() {
        provideTouched()
        return () => labels.value.map((label, i) => h(Figure, { label, key: `${label} ${i}` }))
      },
    })
  const arrive = async (answer: string, before: string) => {
    Object.assign(answers, { answer, before, stale: false, working: null })
    await nextTick()
  }
  const shown = (wrapper: ReturnType<typeof page>) => wrapper.findAll('button').map((b) => b.text())

  beforeEach(() => {
    labels.value = ['price', 'price', 'share']
    Object.assign(answers, { answer: 'a', before: null, stale: false, working: null })
  })

  it('not before it is known, and not while what arrives is provisional', async () => {
    const wrapper = page()
    await wrapper.findAll('button')[1].trigger('click')
    answers.stale = true
    await nextTick()
    expect(shown(wrapper)).toEqual(['', '', ''])
    Object.assign(answers, { answer: 'b', before: 'a', stale: false, working: {} })
    await nextTick()
    expect(shown(wrapper)).toEqual(['', '', ''])
    await arrive('b', 'a')
    expect(shown(wrapper)).toEqual(['', 'a → b', ''])
  })

  it('until the plan changes otherwise, and beside the figure that comes in its place', async () => {
    const wrapper = page()
    await wrapper.findAll('button')[1].trigger('click')
    await arrive('b', 'a')
    labels.value = ['share']
    await nextTick()
    labels.value = ['share', 'price', 'price']
    await nextTick()
    expect(shown(wrapper)).toEqual(['', 'a → b', ''])
    await nextTick()
    plans.plan = {}
    await arrive('c', 'b')
    expect(shown(wrapper)).toEqual(['', '', ''])
  })
})
