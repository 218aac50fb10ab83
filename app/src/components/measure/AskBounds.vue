<script setup lang="ts">
import { MOST_THROUGH_SERVER, parseFigure, PROBE_RANGES, usualBounds, type StatedOrder } from '@sandclock/core'
import { computed } from 'vue'
import EditableFigure from '../sentence/EditableFigure.vue'
import InPlace from '../sentence/InPlace.vue'

/** What a measurement may not go beyond: requests, time and, where somebody says what a request costs, money. */
const order = defineModel<StatedOrder>({ required: true })
const props = defineProps<{ currency?: string | undefined }>()

const bounds = computed(() => order.value.bounds ?? {})
const usual = computed(() => usualBounds(order.value.shape))
const isPriced = computed(() => props.currency !== undefined || bounds.value.money !== undefined)
const ANY = 'any amount of money'
const set = (change: NonNullable<StatedOrder['bounds']>) => (order.value = { ...order.value, bounds: { ...bounds.value, ...change } })

function acceptMoney(text: string): string | undefined {
  const { money: _, ...others } = bounds.value
  const typed = text.replace(props.currency ?? '', '').trim()
  const isNone = typed === '' || typed === ANY
  const money = parseFigure(typed, 'number')
  if (!isNone && !(money >= 0 && money <= PROBE_RANGES.mostMoney[1]))
    return `Type an amount${props.currency ? ` of ${props.currency}` : ''}, or “${ANY}”.`
  order.value = { ...order.value, bounds: isNone ? others : { ...others, money } }
  return undefined
}
</script>

<template>
  <span
    >No more than
    <EditableFigure
      :value="bounds.requests ?? usual.requests"
      kind="count"
      label="Most requests"
      :min="1"
      :max="MOST_THROUGH_SERVER"
      @commit="(requests) => set({ requests })" />
    requests{{ isPriced ? ',' : ' and' }}
    <EditableFigure
      :value="bounds.seconds ?? usual.seconds"
      kind="duration"
      label="Most time"
      :min="PROBE_RANGES.mostSeconds[0]"
      :max="PROBE_RANGES.mostSeconds[1]"
      @commit="(seconds) => set({ seconds })" />{{
      order.shape.kind === 'log' && bounds.seconds === undefined ? ' beyond its own times' : ''
    }}<template v-if="isPriced">
      and
      <InPlace
        :shown="bounds.money === undefined ? ANY : `${bounds.money} ${currency ?? ''}`.trim()"
        label="Most money"
        action="Change it."
        :accept="acceptMoney" /></template
    >.</span
  >
</template>
