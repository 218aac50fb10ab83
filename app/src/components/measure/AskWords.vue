<script setup lang="ts">
import { askedAt, askedWith, duration, parseFigure, PROBE_RANGES, WAYS_OF_ASKING, type StatedShape } from '@sandclock/core'
import { computed, ref } from 'vue'
import type { KeptOrder } from '../../data/measureOrder.ts'
import EditableChoice from '../sentence/EditableChoice.vue'
import EditableFigure from '../sentence/EditableFigure.vue'
import InPlace from '../sentence/InPlace.vue'
import AskBounds from './AskBounds.vue'
import { promptsOf, readList, readPrompts, readSizes, SHAPE_WORDS, shapeOfKind, sizesWords, withPrompts, type ShapeKind } from './shapes.ts'

/** Whom to ask, how, and with which load, in a sentence whose parts are changed in place. */
const order = defineModel<KeptOrder>({ required: true })
/** Names of the request logs that are kept here. */
const { logs = [] } = defineProps<{ logs?: readonly string[] }>()

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
  set({ sizes: withPrompts(sizes, prompts.value) })
  return undefined
}
const prompts = computed(() => promptsOf(shape.value.sizes))
const [MADE_UP, OWN_PROMPTS] = ['made-up prompts', 'prompts of your own']
const choseOwn = ref(false)
const hasOwn = computed(() => shape.value.kind !== 'log' && (choseOwn.value || prompts.value.length > 0))
const setPrompts = (text: string) => set({ sizes: withPrompts(shape.value.sizes, readPrompts(text)) })
function choosePrompts(words: string): void {
  choseOwn.value = words === OWN_PROMPTS
  if (words === MADE_UP) setPrompts('')
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
    <template v-else-if="shape.kind === 'log'">
      <EditableChoice
        v-if="logs.length > 0"
        :value="order.log ?? 'choose one'"
        :options="[...logs]"
        label="Request log that is sent"
        @commit="(log) => (order = { ...order, log })" /><template v-else>none is kept here: drop one into Load</template>, at its own
      times, after one call of {{ sizesWords(shape.sizes.slice(0, 1)) }} tokens</template
    >
    <template v-if="shape.kind !== 'log'">
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
      >, with
      <EditableChoice
        :value="hasOwn ? OWN_PROMPTS : MADE_UP"
        :options="[MADE_UP, OWN_PROMPTS]"
        label="Which prompts are sent"
        @commit="choosePrompts" /></template
    >. <AskBounds v-model="order" :currency="asked.price?.currency" />
  </p>
  <template v-if="hasOwn">
    <p class="mt-1 text-[0.86rem] text-faded"
      >Your prompts, one a line, in turn{{ prompts.length > 0 ? `: ${prompts.length}` : '' }}. Tokens of a prompt are then what is said
      above, or what the endpoint counts.</p
    >
    <textarea
      class="h-24 w-full max-w-[52rem] border border-rule bg-leaf p-2 text-[0.86rem]"
      aria-label="Prompts of your own, one a line"
      :value="prompts.join('\n')"
      @change="setPrompts(($event.target as HTMLTextAreaElement).value)" />
  </template>
</template>
