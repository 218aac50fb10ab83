<script setup lang="ts">
import {
  ARRIVALS,
  classRemarks,
  closedLoopWords,
  isClosedLoop,
  isFromLog,
  measureWords,
  withRate,
  type Plan,
  type RequestClass,
  type Size,
  type Spike,
  type Target,
} from '@sandclock/core'
import { computed } from 'vue'
import {
  addTarget,
  basePeak,
  copyClass,
  editClass,
  removeClass,
  removeTarget,
  renameClass,
  setPeak,
  setSpikes,
  type Edit,
} from '../../edits/edits.ts'
import EditableChoice from './EditableChoice.vue'
import EditableFigure from './EditableFigure.vue'
import EditableName from './EditableName.vue'
import SizeWords from './SizeWords.vue'
import SpikeWords from './SpikeWords.vue'
import TargetWords from './TargetWords.vue'

/** What one class sends and what it is promised, as prose with figures to change. */
const props = defineProps<{ plan: Plan; requestClass: RequestClass; colour: string }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const name = computed(() => props.requestClass.name)
const spikes = computed(() => withRate(props.requestClass.arrivals)?.spikes ?? [])
const DEFAULT_SPIKE_SECONDS = 3600

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

function setSize(field: 'input' | 'output' | 'work', size: Size): void {
  emit(
    'edit',
    editClass(name.value, (c) => ({ ...c, [field]: size })),
  )
}

function setSpike(index: number, spike: Spike | undefined): void {
  emit(
    'edit',
    setSpikes(name.value, (list) => (spike ? list.map((s, i) => (i === index ? spike : s)) : list.filter((_, i) => i !== index))),
  )
}

function addSpike(): void {
  const startSeconds = Math.floor(props.plan.horizon.seconds / 2)
  emit(
    'edit',
    setSpikes(name.value, (list) => [...list, { startSeconds, durationSeconds: DEFAULT_SPIKE_SECONDS, factor: 3 }]),
  )
}

function setPatience(patienceSeconds: number): void {
  emit(
    'edit',
    editClass(name.value, (c) => ({ ...c, patienceSeconds })),
  )
}
</script>

<template>
  <p class="mb-3">
    <EditableName
      :value="name"
      :taken="plan.classes.map((c) => c.name)"
      label="Class"
      :colour="colour"
      @commit="(to) => emit('edit', renameClass(name, to))" />{{ ' ' }}
    <template v-if="isFromLog(requestClass.arrivals)">arrives as the log has it</template>
    <template v-else-if="isClosedLoop(requestClass.arrivals)">{{ closedLoopWords(requestClass.arrivals) }}</template>
    <template v-else>
      {{ requestClass.turns ? 'starts' : 'sends' }}{{ ARRIVALS[requestClass.arrivals.kind].varies ? ' up to' : '' }}
      <EditableFigure
        :value="basePeak(plan, requestClass)"
        kind="rate"
        :min="0"
        :max="100000"
        :label="`Peak rate of ${name}, requests a second`"
        @commit="(rate) => emit('edit', setPeak(name, rate))" />
      {{ requestClass.turns ? 'conversations ' : '' }}a second<template v-for="(spike, i) in spikes" :key="i"
        >,
        <SpikeWords
          :spike="spike"
          :start="plan.horizon.start"
          :class-name="name"
          @change="(s) => setSpike(i, s)"
          @remove="setSpike(i, undefined)" /></template></template
    >:
    <SizeWords
      v-if="requestClass.work"
      :size="requestClass.work"
      :what="`work of ${name}`"
      unit="work units"
      @change="(s) => setSize('work', s)" />
    <template v-else>
      prompts of
      <SizeWords
        v-if="requestClass.input"
        :size="requestClass.input"
        :what="`prompt of ${name}`"
        unit="tokens"
        @change="(s) => setSize('input', s)" />, answers of
      <SizeWords
        v-if="requestClass.output"
        :size="requestClass.output"
        :what="`answer of ${name}`"
        unit="tokens"
        @change="(s) => setSize('output', s)" /></template
    >.
    <template v-if="requestClass.targets.length > 0">
      It is promised{{ ' '
      }}<template v-for="(target, i) in requestClass.targets" :key="i"
        >{{ i === 0 ? '' : i === requestClass.targets.length - 1 ? ' and ' : ', '
        }}<TargetWords :class-name="name" :index="i" :target="target" @edit="(e) => emit('edit', e)" /></template
      >.
    </template>
    <template v-if="requestClass.patienceSeconds !== undefined">
      {{ ' ' }}Callers leave after
      <EditableFigure
        :value="requestClass.patienceSeconds"
        kind="duration"
        :min="0.1"
        :label="`Patience of ${name}`"
        @commit="setPatience" />.
    </template>
    <template v-for="remark in classRemarks(requestClass)" :key="remark">{{ ' ' }}{{ remark }}</template>
    <span class="font-sans text-[0.82rem]">
      <template v-if="withRate(requestClass.arrivals)"
        >{{ ' ' }}<button type="button" class="word !px-0" :aria-label="`Add a spike to ${name}`" @click="addSpike">add a spike</button>,{{
          ' '
        }}</template
      >
      <EditableChoice value="a promise" :options="promises" :label="`Add a promise to ${name}, or take one back`" @commit="promise" />,
      <button type="button" class="word !px-0" :aria-label="`Add a class like ${name}`" @click="emit('edit', copyClass(name))"
        >a class like it</button
      >
      <template v-if="plan.classes.length > 1"
        >, or
        <button type="button" class="word !px-0" :aria-label="`Take ${name} out`" @click="emit('edit', removeClass(name))"
          >take it out</button
        ></template
      >
    </span>
  </p>
</template>
