<script setup lang="ts">
import { PROMPTS, RESERVATIONS, ROUTINGS, WEIGHTS_FROM, type Service } from '@sandclock/core'
import { computed, ref } from 'vue'
import StruckWord from './StruckWord.vue'

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

const of = (key: Key, table: Record<string, { words: string }>, stated: string | undefined): Trial[] =>
  Object.entries(table).flatMap(([value, { words }]) => (value === stated ? [] : [{ key, value, words }]))
const trials = computed<Trial[]>(() => {
  const { routing, start, limits } = props.service
  return [
    ...of('routings', ROUTINGS, routing),
    ...(start ? of('weightsFrom', WEIGHTS_FROM, start.weights.from) : []),
    ...(props.hasTokens
      ? [...of('prompts', PROMPTS, limits?.prompts ?? 'whole'), ...of('reservations', RESERVATIONS, limits?.reservation ?? 'whole')]
      : []),
  ]
})
const listOf = (search: Search, key: Key): readonly string[] => search[key] ?? []
const isTried = ({ key, value }: Trial): boolean => props.service.search !== undefined && listOf(props.service.search, key).includes(value)
/** what is not tried is shown to those who look for it */
const open = ref(false)
const listed = computed(() => (open.value ? trials.value : trials.value.filter(isTried)))
/** what a file may state beside */
const figures = computed(() => {
  const { stepTokens = [], maxPrefillTokens = [], windowSeconds = [] } = props.service.search ?? {}
  const list = (values: readonly number[], unit: string) => (values.length > 0 ? [`${values.join(' or ')} ${unit}`] : [])
  return [
    ...list(stepTokens, 'tokens a step'),
    ...list(maxPrefillTokens, 'prompt tokens a step'),
    ...list(windowSeconds, 's of wait for a batch'),
  ].join(', ')
})

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
  <span>
    <template v-if="listed.length > 0"
      >It tries
      <template v-for="(t, i) in listed" :key="t.key + t.value"
        ><template v-if="i > 0">{{ i === listed.length - 1 ? ' and ' : ', ' }}</template
        ><StruckWord :holds="isTried(t)" :words="t.words" :label="`${service.name}: try ${t.words} as well`" @toggle="toggle(t)"
      /></template>
      as well<template v-if="figures">, and {{ figures }}</template
      >.{{ ' ' }}</template
    >
    <button
      type="button"
      class="word font-sans text-[0.78rem]"
      :aria-expanded="open"
      :aria-label="`Other ways of running ${service.name}`"
      @click="open = !open"
      >{{ open ? 'only what it tries' : 'try other ways of running it' }}</button
    >
  </span>
</template>
