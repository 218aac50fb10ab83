// @vitest-environment happy-dom
import { mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useReadiness } from './useReadiness.ts'

const answers = vi.hoisted(() => ({ asked: 0, makeReady: () => void answers.asked++ }))
vi.mock('../stores/answerStore.ts', () => ({ useAnswerStore: () => answers }))

describe('a search is made ready', () => {
  let page: VueWrapper
  beforeEach(() => {
    answers.asked = 0
    page = mount(
      {
        template:
          '<header><button class="changeable" /></header><aside><button class="changeable"><b /></button></aside><main><p /><i role="slider" /><input /></main>',
        setup: () => useReadiness(),
      },
      { attachTo: document.body },
    )
  })
  afterEach(() => page.unmount())
  const asked = (selector: string, event: string) => {
    answers.asked = 0
    document.querySelector(selector)?.dispatchEvent(new Event(event, { bubbles: true }))
    return answers.asked
  }

  it.each(['aside button', 'aside b', 'main i', 'main input'])('for who has a hand on %s', (selector) => {
    expect([asked(selector, 'pointerover'), asked(selector, 'focusin')]).toEqual([1, 1])
  })

  it.each(['header button', 'main p', 'main', 'body'])('not for who only looks: %s', (selector) => {
    expect([asked(selector, 'pointerover'), asked(selector, 'focusin')]).toEqual([0, 0])
  })
})
