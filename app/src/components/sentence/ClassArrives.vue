<script setup lang="ts">
import {
  ARRIVALS,
  classRemarks,
  closedLoopWords,
  isClosedLoop,
  isFromLog,
  withRate,
  type Plan,
  type RequestClass,
  type Size,
  type Spike,
} from '@sandclock/core'
import { computed } from 'vue'
import { basePeak, editClass, setPeak, setSpikes, type Edit } from '../../edits/edits.ts'
import EditableFigure from './EditableFigure.vue'
import SizeWords from './SizeWords.vue'
import SpikeWords from './SpikeWords.vue'

/** When the requests of a class arrive and how large they are, following its name. */
const props = defineProps<{ plan: Plan; requestClass: RequestClass }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const name = computed(() => props.requestClass.name)
const spikes = computed(() => withRate(props.requestClass.arrivals)?.spikes ?? [])

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
</script>

<template>
  <span>
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
    <template v-for="remark in classRemarks(requestClass)" :key="remark">{{ ' ' }}{{ remark }}</template>
  </span>
</template>
