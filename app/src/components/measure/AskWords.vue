<script setup lang="ts">
import {
  askedAt,
  askedWith,
  duration,
  parseFigure,
  PROBE_RANGES,
  WAYS_OF_ASKING,
  type StatedOrder,
  type StatedShape,
} from '@sandclock/core'
import { computed } from 'vue'
import EditableChoice from '../sentence/EditableChoice.vue'
import EditableFigure from '../sentence/EditableFigure.vue'
import InPlace from '../sentence/InPlace.vue'
import AskBounds from './AskBounds.vue'
import { readList, readSizes, SHAPE_WORDS, shapeOfKind, sizesWords, type ShapeKind } from './shapes.ts'

/** Whom to ask, how, and with which load, in a sentence whose parts are changed in place. */
const order = defineModel<StatedOrder>({ required: true })

const WAYS: Record<(typeof WAYS_OF_ASKING)[number], string> = {
  chat: 'chat completions',
  inference: 'open inference protocol',
  'inference-stream': 'open inference protocol, streamed',
  plain: 'plain JSON',
}
const OWN = 'its own way, below'
const asked = computed(() => askedAt(order.value.how))
const way = computed(() => (asked.value.as ? WAYS[asked.value.as] : OWN))
const shape = computed(() => order.value.shape)
const set = (change: Partial<StatedShape>) => (order.value = { ...order.value, shape: { ...order.value.shape, ...change } as StatedShape })
const [IN_TURN, APART] = ['in turn', 'each apart']

function acceptUrl(text: string): string | undefined {
  if (!URL.canParse(text) || !/^https?:$/.test(new URL(text).protocol)) return 'Type an address such as http://127.0.0.1:8080/answer.'
  order.value = { ...order.value, how: askedWith(order.value.how, { url: text }) }
  return undefined
}
function chooseWay(words: string): void {
  const as = WAYS_OF_ASKING.find((w) => WAYS[w] === words)
  if (as) order.value = { ...order.value, how: askedWith(order.value.how, { as }) }
}
function chooseKind(words: string): void {
  const kind = (Object.keys(SHAPE_WORDS) as ShapeKind[]).find((k) => SHAPE_WORDS[k] === words)
  if (kind) order.value = { ...order.value, shape: shapeOfKind(kind, order.value.shape) }
}
function acceptSizes(text: string): string | undefined {
  const sizes = readSizes(text)
  if (typeof sizes === 'string') return sizes
  set({ sizes })
  return undefined
}
const UNTIL = '1, 2, 4 … until no more are answered'
function acceptClients(text: string): string | undefined {
  if (text === UNTIL && shape.value.kind === 'at-once') return undefined
  const clients = readList(text, PROBE_RANGES.clients, true)
  if (typeof clients === 'string') return clients
  set({ clients } as Partial<StatedShape>)
  return undefined
}
function acceptRates(text: string): string | undefined {
  const perSecond = readList(text, PROBE_RANGES.perSecond, false)
  if (typeof perSecond === 'string') return perSecond
  set({ perSecond } as Partial<StatedShape>)
  return undefined
}
const ANY_TIME = 'any time'
const promised = computed(() => {
  const { firstTokenSeconds } = order.value.promise ?? {}
  return firstTokenSeconds === undefined ? ANY_TIME : duration(firstTokenSeconds)
})
/** Rates climb until one breaks it. */
function acceptPromise(text: string): string | undefined {
  const { firstTokenSeconds: _, ...others } = order.value.promise ?? {}
  const isNone = text.trim() === '' || text.trim() === ANY_TIME
  const seconds = parseFigure(text, 'duration')
  if (!isNone && !(seconds > 0 && seconds <= PROBE_RANGES.promisedSeconds[1])) return `Type a duration up to an hour, or “${ANY_TIME}”.`
  order.value = { ...order.value, promise: isNone ? others : { ...others, firstTokenSeconds: seconds } }
  return undefined
}
</script>

<template>
  <p class="leading-7">
    Ask
    <InPlace :shown="asked.url ?? 'an address'" label="Address that is asked" action="Change it." :longest="300" :accept="acceptUrl" />
    by
    <EditableChoice :value="way" :options="[...Object.values(WAYS)]" label="How it is asked" @commit="chooseWay" />, with
    <EditableChoice
      :value="SHAPE_WORDS[shape.kind]"
      :options="Object.values(SHAPE_WORDS)"
      label="Which load is sent"
      @commit="chooseKind" />:
    <template v-if="shape.kind === 'find-costs' || shape.kind === 'at-once'">
      <InPlace :shown="shape.clients?.join(', ') ?? UNTIL" label="Callers at once" action="Change them." :accept="acceptClients" /> at once,
      <EditableFigure
        :value="shape.requestsEach"
        kind="count"
        label="Requests of each caller"
        :min="1"
        :max="PROBE_RANGES.each[1]"
        @commit="(requestsEach) => set({ requestsEach })" />
      requests each,
    </template>
    <template v-else-if="shape.kind === 'one-after-another'">
      <EditableFigure
        :value="shape.requests"
        kind="count"
        label="Calls"
        :min="1"
        :max="PROBE_RANGES.calls[1]"
        @commit="(requests) => set({ requests })" />
      calls,
    </template>
    <template v-else-if="shape.kind === 'rates'">
      <InPlace :shown="shape.perSecond.join(', ')" label="New requests a second" action="Change them." :accept="acceptRates" /> new ones a
      second, as chance has it,
      <EditableFigure
        :value="shape.seconds"
        kind="duration"
        label="How long each rate lasts"
        :min="1"
        :max="PROBE_RANGES.lastsSeconds[1]"
        @commit="(seconds) => set({ seconds })" />
      each, as long as 95 of 100 are answered, the first token of 95 of 100 within
      <InPlace :shown="promised" label="Promised time to the first token" action="Change it." :accept="acceptPromise" />,
    </template>
    <template v-else-if="shape.kind === 'find-idle'">
      one after no other for
      <EditableFigure
        :value="shape.fromSeconds"
        kind="duration"
        label="Shortest time without a call"
        :min="PROBE_RANGES.soughtSeconds[0]"
        :max="shape.mostSeconds"
        @commit="(fromSeconds) => set({ fromSeconds })" />, twice, four times as long …, at the most for
      <EditableFigure
        :value="shape.mostSeconds"
        kind="duration"
        label="Longest time without a call"
        :min="shape.fromSeconds"
        :max="PROBE_RANGES.soughtSeconds[1]"
        @commit="(mostSeconds) => set({ mostSeconds })" />, until the first caller waits for a start-up, and then between the last two,
    </template>
    <template v-else-if="shape.kind === 'after-idle'">
      after
      <EditableFigure
        :value="shape.idleSeconds"
        kind="duration"
        label="Time without a call"
        :min="0"
        :max="PROBE_RANGES.idleSeconds[1]"
        @commit="(idleSeconds) => set({ idleSeconds })" />
      without any,
      <EditableFigure
        :value="shape.times"
        kind="count"
        label="How often"
        :min="1"
        :max="PROBE_RANGES.times[1]"
        @commit="(times) => set({ times })" />
      times,
    </template>
    of
    <InPlace
      :shown="sizesWords(shape.sizes)"
      label="Tokens of prompt + answer"
      action="Change them."
      :longest="400"
      :accept="acceptSizes" />
    tokens, prompt + answer<template v-if="shape.sizes.length > 1"
      >,
      <EditableChoice
        :value="shape.apart ? APART : IN_TURN"
        :options="[IN_TURN, APART]"
        label="How sizes follow each other"
        @commit="(words) => set({ apart: words === APART })" /></template
    ><template v-if="shape.kind === 'find-costs'"
      >; then for
      <EditableFigure
        :value="shape.judgeSeconds"
        kind="duration"
        label="How long each load lasts that judges"
        :min="1"
        :max="PROBE_RANGES.lastsSeconds[1]"
        @commit="(judgeSeconds) => set({ judgeSeconds })" />
      each what judges, at 70 % of what was answered and with a spike</template
    >. <AskBounds v-model="order" :currency="asked.price?.currency" />
  </p>
</template>
