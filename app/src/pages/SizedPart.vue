<script setup lang="ts">
import { FINDS, likeOfSize, SIZES, waysOf, type OneRequest, type SizedAsked } from '@sandclock/core'
import { computed, onMounted, shallowRef, useTemplateRef, watch } from 'vue'
import OneLaid from '../components/one/OneLaid.vue'
import EditableChoice from '../components/sentence/EditableChoice.vue'
import EditableFigure from '../components/sentence/EditableFigure.vue'
import { useOneStore } from '../stores/oneStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

/** The first question of somebody who has only a model's size and a machine's name: one request, laid out at once. */
const [plans, views, ones] = [usePlanStore(), useViewStore(), useOneStore()]
const MOST_BITS = 'the most bits that fit'
const BITS = ['16-bit', '8-bit', '4-bit']

const machines = computed(() => plans.plan.machines.map((m) => m.name))
const asked = computed((): SizedAsked => {
  const { machine, ...sized } = ones.sized
  return { ...sized, machine: machines.value.includes(machine) ? machine : (machines.value[0] ?? '') }
})
const change = (patch: Partial<SizedAsked>) => (ones.sized = { ...ones.sized, ...patch })
function setBits(words: string): void {
  const { variant: _, ...rest } = ones.sized
  ones.sized = words === MOST_BITS ? rest : { ...rest, variant: words }
}
const one = shallowRef<OneRequest | null>(null)
const trouble = shallowRef('')
let asking = 0
watch(
  [asked, () => views.generation],
  async () => {
    const mine = ++asking
    const found = await views.oneOfSize({ ...asked.value })
    if (mine !== asking || !found) return
    one.value = 'one' in found ? found.one : null
    trouble.value = 'message' in found ? found.message.replaceAll(/\n\s*/g, ' ') : ''
  },
  { immediate: true },
)
const laid = computed(() => (one.value ? [{ letter: 'A', one: one.value }] : []))
const where = computed(() => {
  if (!one.value) return ''
  const { variant, devices, sequences } = one.value.asked
  return `in ${variant}, over ${devices === 1 ? 'one device' : `${devices} devices`} of it, with room for ${sequences} side by side`
})
// Who comes by keyboard types the size at once.
const first = useTemplateRef<HTMLElement>('first')
onMounted(() => first.value?.querySelector('button')?.focus())
</script>

<template>
  <div>
    <p v-if="machines.length === 0" class="font-serif text-[1.1rem]"
      >This plan has no machines: take in a catalogue in Fit, or open the example.</p
    >
    <template v-else>
      <p class="font-serif text-[1.12rem] leading-[1.75]">
        A dense model of
        <span ref="first"
          ><EditableFigure
            :value="asked.billions"
            kind="number"
            :min="SIZES.least"
            :max="SIZES.most"
            label="Billions of parameters"
            @commit="(billions) => change({ billions })"
        /></span>
        billion parameters in
        <EditableChoice
          :value="asked.variant ?? MOST_BITS"
          :options="[MOST_BITS, ...BITS]"
          label="How its weights are packed"
          @commit="setBits" />, on
        <EditableChoice :value="asked.machine" :options="machines" label="The machine" @commit="(machine) => change({ machine })" />, asked
        with
        <EditableFigure
          :value="asked.input"
          kind="count"
          :min="1"
          :max="1000000"
          label="Tokens of the prompt"
          @commit="(input) => change({ input })" />
        tokens for an answer of
        <EditableFigure
          :value="asked.output"
          kind="count"
          :min="1"
          :max="1000000"
          label="Tokens of the answer"
          @commit="(output) => change({ output })" />, finding
        <EditableChoice
          :value="FINDS[asked.finds].words"
          :options="waysOf(FINDS).map((f) => FINDS[f].words)"
          label="What is there at the call"
          @commit="(words) => change({ finds: waysOf(FINDS).find((f) => FINDS[f].words === words) ?? 'warm' })" />
        with
        <EditableFigure
          :value="asked.others"
          kind="count"
          :min="0"
          :max="4096"
          label="Others in service"
          @commit="(others) => change({ others })" />
        others in service.
      </p>
      <p v-if="trouble" role="alert" class="text-[0.95rem] text-rust">{{ trouble }}</p>
      <p v-if="one" class="mb-1 text-[0.95rem] text-faded"
        >It runs {{ where }}. Layers and width are taken from {{ likeOfSize(asked.billions) }}, an invented shape of about its size; the
        rest is as a plan that is begun assumes it.</p
      >
      <OneLaid v-if="one" :laid="laid" />
    </template>
  </div>
</template>
