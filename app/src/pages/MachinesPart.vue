<script setup lang="ts">
import { writeCatalogue, type CatalogueSyntax, type Machine } from '@sandclock/core'
import { computed } from 'vue'
import MachineSheet from '../components/market/MachineSheet.vue'
import { saveText } from '../composables/useFiles.ts'
import { copyMachine, editMachine, removeMachines } from '../edits/marketEdits.ts'
import { usePlanStore } from '../stores/planStore.ts'

/** The catalogue of the plan, to be edited like a sheet, taken in and given out as a file. */
const plans = usePlanStore()
const emit = defineEmits<{ pickFile: [] }>()

const SYNTAXES: readonly CatalogueSyntax[] = ['csv', 'json', 'yaml']
const machines = computed(() => plans.plan.machines)
const said = computed(() => {
  const providers = new Set(machines.value.map((m) => m.provider)).size
  const regions = new Set(machines.value.map((m) => m.region)).size
  return `${machines.value.length} offers of ${providers} ${providers === 1 ? 'provider' : 'providers'} in ${regions} ${regions === 1 ? 'region' : 'regions'}`
})
const change = (changes: { name: string; machine: Machine }[]) =>
  plans.edit((plan) => changes.reduce((p, c) => editMachine(c.name, () => c.machine)(p), plan))
const save = (syntax: CatalogueSyntax) => saveText(`machines.${syntax}`, writeCatalogue(machines.value, syntax))
</script>

<template>
  <div>
    <p class="mb-2 font-serif text-[1.08rem]">
      {{ said }}. Save them as
      <template v-for="(s, i) in SYNTAXES" :key="s"
        ><template v-if="i > 0">{{ i === 2 ? ' or ' : ', ' }}</template
        ><button type="button" class="word" @click="save(s)">{{ s.toUpperCase() }}</button></template
      >, or <button type="button" class="word" @click="emit('pickFile')">take a catalogue in</button>: it can be dropped anywhere.
    </p>
    <MachineSheet
      :machines="machines"
      @change="change"
      @add="(after) => plans.edit(copyMachine(after))"
      @remove="(names) => plans.edit(removeMachines(names))"
      @refuse="(lines) => (plans.trouble = { title: 'Some cells were left as they were.', lines })" />
  </div>
</template>
