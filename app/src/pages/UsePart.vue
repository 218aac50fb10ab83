<script setup lang="ts">
import { optionOf, threeDigits, type MachineUse } from '@sandclock/core'
import { computed, ref, shallowRef, watch } from 'vue'
import WordChoice from '../components/frame/WordChoice.vue'
import UsePicture from '../components/run/UsePicture.vue'
import { useAnswerStore } from '../stores/answerStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

/** How machines are used over time by everything that is chosen, whatever service one looks at. */
const [plans, answers, views] = [usePlanStore(), useAnswerStore(), useViewStore()]
const open = ref(false)
const uses = shallowRef<readonly MachineUse[]>([])
const shown = ref('')
const names = computed(() =>
  (answers.answer?.services ?? []).flatMap(({ service, chosen }) =>
    chosen ? [{ service, option: optionOf(chosen), machines: chosen.machines }] : [],
  ),
)
let asked = 0
watch(
  [open, () => JSON.stringify(names.value), () => views.generation],
  async () => {
    const mine = ++asked
    if (!open.value) return
    const found = (await views.machineUseOf(names.value)) ?? []
    if (mine !== asked) return
    uses.value = found
    if (!found.some((u) => u.machine === shown.value)) shown.value = found[0]?.machine ?? ''
  },
  { immediate: true },
)
const use = computed(() => uses.value.find((u) => u.machine === shown.value))
const mean = ({ machines }: MachineUse) => threeDigits(machines.reduce((a, b) => a + b, 0) / machines.length)
</script>

<template>
  <details class="mt-3" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary class="cursor-pointer font-serif text-[1.15rem]">How machines are used, over all services</summary>
    <template v-if="open && use">
      <p class="flex flex-wrap gap-x-4 text-[0.9rem]">
        <WordChoice v-model="shown" :options="uses.map((u) => ({ value: u.machine, words: u.machine }))" label="Which machine" />
        <span class="ml-auto text-faded">{{ mean(use) }} on average, for {{ use.services.join(' and ') }}; what is chosen, first draw</span>
      </p>
      <UsePicture class="mt-1" :use="use" :start-iso="plans.plan.horizon.start" :height="200" />
    </template>
    <p v-else-if="open" class="text-faded">it is being reckoned …</p>
  </details>
</template>
