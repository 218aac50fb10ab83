import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import type { RunChoice } from '../composables/useRunChoices.ts'

/** What can be told apart in one picture. */
export const MOST_PINS = 4

/** Runs that are pinned to be compared, by plan and service; they stay when the tab is closed. */
export const usePinStore = defineStore('pins', () => {
  const kept = useLocalStorage<Record<string, RunChoice[]>>('sand-clock-pins', {}, { shallow: true }) // plain data, which is sent to workers
  const place = (planId: string, service: string) => `${planId} ${service}`

  const pinsOf = (planId: string, service: string): RunChoice[] => kept.value[place(planId, service)] ?? []
  function set(planId: string, service: string, pins: readonly RunChoice[]): void {
    kept.value = { ...kept.value, [place(planId, service)]: pins.slice(0, MOST_PINS) }
  }
  function toggle(planId: string, service: string, choice: RunChoice): void {
    const pins = pinsOf(planId, service)
    set(planId, service, pins.some((p) => p.key === choice.key) ? pins.filter((p) => p.key !== choice.key) : [...pins, choice])
  }
  return { pinsOf, set, toggle }
})
