import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import type { RunChoice } from '../composables/useRunChoices.ts'
import { readKeptPin, readKeptPins } from '../data/kept.ts'
import { throwAway } from '../data/thrown.ts'
import { useThrownStore } from './thrownStore.ts'

const KEY = 'sand-clock-pins'

/** What can be told apart in one picture. */
export const MOST_PINS = 4

/** Runs that are pinned to be compared, by plan and service; they stay when the tab is closed. */
export const usePinStore = defineStore('pins', () => {
  const kept = useLocalStorage<Record<string, RunChoice[]>>(
    KEY,
    {},
    {
      shallow: true, // plain data, which is sent to workers
      serializer: {
        read: (text) => {
          const { pins, broken } = readKeptPins(text)
          if (broken.length > 0) {
            localStorage.setItem(KEY, JSON.stringify(pins)) // else they would be put aside at every start
            void useThrownStore().putAside(
              broken.length === 1 ? 'a pinned run' : `${broken.length} pinned runs`,
              broken,
              'the others stay pinned',
            )
          }
          return pins
        },
        write: (pins) => JSON.stringify(pins),
      },
    },
  )
  const place = (planId: string, service: string) => `${planId} ${service}`

  const pinsOf = (planId: string, service: string): RunChoice[] => kept.value[place(planId, service)] ?? []
  function set(planId: string, service: string, pins: readonly RunChoice[]): void {
    kept.value = { ...kept.value, [place(planId, service)]: pins.slice(0, MOST_PINS) }
  }
  function toggle(planId: string, service: string, choice: RunChoice): void {
    const pins = pinsOf(planId, service)
    const isPinned = pins.some((p) => p.key === choice.key)
    set(planId, service, isPinned ? pins.filter((p) => p.key !== choice.key) : [...pins, choice])
    if (isPinned) void throwAway('pin', choice.words, { planId, service, choice })
  }
  /** A run that was unpinned is pinned again. @returns whether it is: not what can not be read, nor where there is no room for it */
  function restore({ planId, service, choice: thrown }: { planId: string; service: string; choice: unknown }): boolean {
    const choice = readKeptPin(thrown)
    if (!choice) return false
    const pins = pinsOf(planId, service)
    if (pins.some((p) => p.key === choice.key)) return true
    if (pins.length >= MOST_PINS) return false
    set(planId, service, [...pins, choice])
    return true
  }
  return { pinsOf, set, toggle, restore }
})
