<script setup lang="ts">
import type { Service } from '@sandclock/core'
import { computed } from 'vue'

/** What the search tries beside what a service states, as words that are struck out or not. */
const props = defineProps<{ service: Service; hasTokens: boolean }>()
const emit = defineEmits<{ change: [search: NonNullable<Service['search']>] }>()

type Search = NonNullable<Service['search']>
type Key = 'routings' | 'weightsFrom' | 'prompts' | 'reservations'

/** One thing that can be tried: a value of a list of the search. */
interface Trial {
  key: Key
  value: string
  words: string
}

const ROUTINGS = { 'least-busy': 'least-busy routing', 'round-robin': 'routing in turns', 'two-choice': 'two-choice routing', 'shared-queue': 'one shared queue' } as const
const WEIGHTS = { store: 'weights from the store', image: 'weights in the image', node: 'weights kept on the machine' } as const
const PROMPTS = { whole: 'whole prompts', interleaved: 'prompts in chunks' } as const
const ROOM = { whole: 'room kept from the start', optimistic: 'room as tokens come' } as const

const of = (key: Key, words: Record<string, string>, stated: string | undefined): Trial[] => Object.entries(words).flatMap(([value, w]) => (value === stated ? [] : [{ key, value, words: w }]))
const trials = computed<Trial[]>(() => {
  const { routing, start, limits } = props.service
  return [
    ...of('routings', ROUTINGS, routing),
    ...(start ? of('weightsFrom', WEIGHTS, start.weights.from) : []),
    ...(props.hasTokens ? [...of('prompts', PROMPTS, limits?.prompts ?? 'whole'), ...of('reservations', ROOM, limits?.reservation ?? 'whole')] : []),
  ]
})
const listOf = (search: Search, key: Key): readonly string[] => search[key] ?? []
const tried = computed(() => trials.value.map((t) => props.service.search !== undefined && listOf(props.service.search, t.key).includes(t.value)))

function toggle({ key, value }: Trial): void {
  const { search } = props.service
  if (!search) return
  const before = listOf(search, key)
  const next = before.includes(value) ? before.filter((v) => v !== value) : [...before, value]
  const { [key]: _, ...rest } = search
  emit('change', next.length > 0 ? { ...rest, [key]: next } : rest)
}
</script>

<template>
  <span>It tries <template v-for="(t, i) in trials" :key="t.key + t.value"><template v-if="i > 0">{{ i === trials.length - 1 ? ' and ' : ', ' }}</template><button type="button" class="changeable" :class="tried[i] ? '' : 'text-faded line-through'" :aria-pressed="tried[i]" :aria-label="`${service.name}: try ${t.words} as well`" @click="toggle(t)">{{ t.words }}</button></template> as well.</span>
</template>
