<script setup lang="ts">
import { soldFields, type FirstFrom, type Sold } from '@sandclock/core'
import type { Edit } from '../../edits/edits.ts'
import { editSold, removeSold, tryTokens } from '../../edits/soldEdits.ts'
import EveryField from '../fields/EveryField.vue'
import EditableName from '../sentence/EditableName.vue'
import EditableQuantity from '../sentence/EditableQuantity.vue'

/** One service that is sold by tokens in prose: what it serves, how long that takes, what it costs and what it lets a key ask for. */
const props = defineProps<{
  sold: Sold
  currency: string
  taken: readonly string[]
  /** services that could be served by it: whether their search tries it, and whether one states it */
  tried: readonly string[]
  untried: readonly string[]
  from: FirstFrom
}>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const change = (to: (s: Sold) => Sold) => emit('edit', editSold(props.sold.name, to))
const set = (patch: Partial<Sold>) => change((s) => ({ ...s, ...patch }))
/** How long something takes; a spread never ends below the median. */
const setTimes = (key: 'firstToken' | 'eachToken', patch: Partial<Sold['firstToken']>) =>
  change((s) => {
    const { seconds, p95Seconds } = { ...s[key], ...patch }
    return { ...s, [key]: { seconds, ...(p95Seconds !== undefined && { p95Seconds: Math.max(seconds, p95Seconds) }) } }
  })
/** Whether it is one is seen when the plan is checked. */
const put = (next: Record<string, unknown>) => change(() => next as Sold)
const PRICES = [
  { key: 'pricePerMillionInput', of: 'a million prompt tokens' },
  { key: 'pricePerMillionOutput', of: 'a million answer tokens' },
] as const
const TIMES = [
  { key: 'firstToken', of: 'The first token', after: 'comes after' },
  { key: 'eachToken', of: 'each further one', after: 'takes' },
] as const
</script>

<template>
  <section class="mb-5" :aria-label="sold.name">
    <p class="font-serif text-[1.08rem] leading-relaxed">
      <EditableName :value="sold.name" :taken="taken" label="Sold by tokens" @commit="(name) => set({ name })" /> of {{ sold.provider }},
      {{ sold.region }}, sells {{ sold.model }} in {{ sold.variant }}:
      <template v-for="(p, i) in PRICES" :key="p.key"
        ><template v-if="i > 0"> and </template
        ><EditableQuantity
          :value="sold[p.key]"
          kind="money"
          :min="0"
          :label="`${sold.name}, ${currency} ${p.of}`"
          @commit="(v) => v !== undefined && set({ [p.key]: v })" />
        {{ currency }} {{ p.of }}</template
      >.
      <template v-for="(t, i) in TIMES" :key="t.key"
        ><template v-if="i > 0">, </template>{{ t.of }} {{ t.after }}
        <EditableQuantity
          :value="sold[t.key].seconds"
          kind="duration"
          :min="0.000001"
          :label="`${sold.name}: ${t.of}, half of them`"
          @commit="(v) => v !== undefined && setTimes(t.key, { seconds: v })" />, or within
        <EditableQuantity
          :value="sold[t.key].p95Seconds ?? sold[t.key].seconds"
          kind="duration"
          :min="0.000001"
          :label="`${sold.name}: ${t.of}, 95 of 100`"
          @commit="(v) => v !== undefined && setTimes(t.key, { p95Seconds: v })" />
        for 95 of 100</template
      >.
      <template v-if="tried.length > 0">The search tries it for {{ tried.join(' and ') }}. </template>
      <template v-for="service in untried" :key="service"
        ><button type="button" class="word font-sans text-[0.86rem]" @click="emit('edit', tryTokens(service))"
          >let the search try it for {{ service }}</button
        >{{ ' ' }}</template
      >
    </p>
    <div class="flex flex-wrap gap-x-5 gap-y-1 font-sans text-[0.82rem]">
      <EveryField
        :fields="soldFields"
        :value="sold"
        :skip="['name']"
        :label="sold.name"
        path=".soldByTokens[]"
        :from="from"
        @change="put" />
      <button type="button" class="word py-1" :aria-label="`Take ${sold.name} out`" @click="emit('edit', removeSold(sold.name))"
        >take it out</button
      >
    </div>
  </section>
</template>
