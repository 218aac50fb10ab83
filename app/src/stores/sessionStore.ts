import { USUAL_SESSION, type SessionAsked } from '@sandclock/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { SessionView } from '../worker/oneViews.ts'
import { useViewStore } from './viewStore.ts'

/** One session, laid out: it stays while one looks at other views. */
export const useSessionStore = defineStore('session', () => {
  const use = shallowRef<Omit<SessionAsked, 'one'>>(USUAL_SESSION)
  /** what it is worth that one caller does not wait for a start-up, in the plan's currency */
  const worth = shallowRef(0)
  const view = shallowRef<SessionView | null>(null)
  const trouble = shallowRef('')
  let asking = 0

  /** Lays it out on a place, in the worker; what was asked last counts. */
  async function layOut(one: SessionAsked['one']): Promise<void> {
    const mine = ++asking
    const found = await useViewStore().sessionOf({ ...use.value, one }, worth.value)
    if (mine !== asking || found === undefined) return
    view.value = 'session' in found ? found : null
    trouble.value = 'message' in found ? found.message.replaceAll(/\n\s*/g, ' ') : ''
  }

  /** Changes the use; no load is requests by hand. */
  const change = ({ load = use.value.load, ...patch }: Partial<Omit<SessionAsked, 'one'>>) =>
    (use.value = { ...use.value, ...patch, ...(load && { load }) })
  function byHand(): void {
    const { load: _, ...rest } = use.value
    use.value = rest
  }
  return { use, worth, view, trouble, layOut, change, byHand }
})
