<script setup lang="ts">
import { measureWords, withRate, type Plan, type RequestClass, type Target } from '@sandclock/core'
import { computed } from 'vue'
import { addTarget, copyClass, removeClass, removeTarget, renameClass, setSpikes, setWay, type Edit } from '../../edits/edits.ts'
import ClassArrives from './ClassArrives.vue'
import ClassPromises from './ClassPromises.vue'
import EditableChoice from './EditableChoice.vue'
import EditableName from './EditableName.vue'
import { CLASS_PARTS, type ClassPart } from './passages.ts'

/** What one class sends and what it is promised, as prose with figures to change. */
const { parts = CLASS_PARTS, ...props } = defineProps<{
  plan: Plan
  requestClass: RequestClass
  colour: string
  parts?: readonly ClassPart[]
}>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const name = computed(() => props.requestClass.name)
const DEFAULT_SPIKE_SECONDS = 3600
const FIRST_WAY_SECONDS = 0.04

/** What may be promised, in the words of the list; fixed work has no tokens. */
const PROMISES: readonly { measure: Target['measure']; words: string; tokens: boolean }[] = [
  { measure: 'ttft', words: 'the first token', tokens: true },
  { measure: 'tpot', words: 'each further token', tokens: true },
  { measure: 'latency', words: 'the whole answer', tokens: false },
  { measure: 'wait', words: 'a start', tokens: false },
  { measure: 'lost', words: 'few lost', tokens: false },
  { measure: 'throughput', words: 'a throughput', tokens: false },
]
const BACK = 'no longer '
const promises = computed(() => [
  ...PROMISES.filter((p) => !p.tokens || !props.requestClass.work).map((p) => p.words),
  ...props.requestClass.targets.map((t) => `${BACK}${measureWords(t)}`),
])

function promise(words: string): void {
  const back = props.requestClass.targets.findIndex((t) => words === `${BACK}${measureWords(t)}`)
  if (back >= 0) return emit('edit', removeTarget(name.value, back))
  const chosen = PROMISES.find((p) => p.words === words)
  if (chosen) emit('edit', addTarget(name.value, chosen.measure))
}

function addSpike(): void {
  const startSeconds = Math.floor(props.plan.horizon.seconds / 2)
  emit(
    'edit',
    setSpikes(name.value, (list) => [...list, { startSeconds, durationSeconds: DEFAULT_SPIKE_SECONDS, factor: 3 }]),
  )
}
</script>

<template>
  <p>
    <EditableName
      :value="name"
      :taken="plan.classes.map((c) => c.name)"
      label="Class"
      :colour="colour"
      @commit="(to) => emit('edit', renameClass(name, to))" />{{ ' ' }}
    <ClassArrives v-if="parts.includes('arrives')" :plan="plan" :request-class="requestClass" @edit="(e) => emit('edit', e)" />{{ ' ' }}
    <ClassPromises
      v-if="parts.includes('promised')"
      :request-class="requestClass"
      :subject="parts.includes('arrives') ? 'It' : ''"
      @edit="(e) => emit('edit', e)" />
    <span class="font-sans text-[0.82rem]">
      <template v-if="parts.includes('arrives') && withRate(requestClass.arrivals)"
        >{{ ' '
        }}<span class="whitespace-nowrap"
          ><button type="button" class="word" :aria-label="`Add a spike to ${name}`" @click="addSpike">add a spike</button>,</span
        >{{ ' ' }}</template
      ><EditableChoice
        v-if="parts.includes('promised')"
        value="add a promise"
        :options="promises"
        :label="`Add a promise to ${name}, or take one back`"
        @commit="promise" /><template v-if="parts.includes('promised') && !requestClass.way"
        >,
        <button
          type="button"
          class="word"
          :aria-label="`Say how far callers of ${name} are`"
          @click="emit('edit', setWay(name, { seconds: FIRST_WAY_SECONDS }))"
          >say how far callers are</button
        ></template
      >
      <template v-if="parts.includes('arrives')"
        >,
        <button type="button" class="word" :aria-label="`Add a class like ${name}`" @click="emit('edit', copyClass(name))"
          >a class like it</button
        ><template v-if="plan.classes.length > 1"
          >, or
          <button type="button" class="word" :aria-label="`Take ${name} out`" @click="emit('edit', removeClass(name))"
            >take it out</button
          ></template
        ></template
      >
    </span>
  </p>
</template>
