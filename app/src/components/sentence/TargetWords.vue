<script setup lang="ts">
import type { Target } from '@sandclock/core'
import { editTarget, type Edit } from '../../edits/edits.ts'
import EditableChoice from './EditableChoice.vue'
import EditableFigure from './EditableFigure.vue'

/** One promise to a class, in words. */
const props = defineProps<{ className: string; index: number; target: Target }>()
const emit = defineEmits<{ edit: [edit: Edit] }>()

const WORDS = {
  ttft: 'the first token within',
  tpot: 'each further token within',
  latency: 'the whole answer within',
  wait: 'a start within',
} as const
const AT = { caller: 'at the caller', service: 'at the service' } as const
const OVER = { all: 'overall', 'worst-hour': 'even in the worst hour' } as const

function change(
  patch: Partial<{
    seconds: number
    percentile: number
    share: number
    perSecond: number
    over: 'all' | 'worst-hour'
    at: 'caller' | 'service'
  }>,
): void {
  emit(
    'edit',
    editTarget(props.className, props.index, (t) => ({ ...t, ...patch }) as Target),
  ) // the patch has fields of this very target
}
</script>

<template>
  <template v-if="target.measure === 'lost'">
    at most
    <EditableFigure
      :value="target.share"
      kind="percent"
      :min="0"
      :max="0.99"
      :label="`Largest lost share of ${className}`"
      @commit="(share) => change({ share })" />
    lost</template
  >
  <template v-else-if="target.measure === 'throughput'">
    at least
    <EditableFigure
      :value="target.perSecond"
      kind="rate"
      :label="`Throughput of ${className}`"
      @commit="(perSecond) => change({ perSecond })" />
    answered a second</template
  >
  <template v-else>
    {{ WORDS[target.measure] }}
    <EditableFigure
      :value="target.seconds"
      kind="duration"
      :min="0.001"
      :label="`${target.measure} target of ${className}`"
      @commit="(seconds) => change({ seconds })" />
    for
    <EditableFigure
      :value="target.percentile"
      kind="number"
      :min="1"
      :max="99.99"
      :label="`Percentile of the ${target.measure} target of ${className}`"
      @commit="(percentile) => change({ percentile })" />
    of 100
    <EditableChoice
      :value="OVER[target.over ?? 'all']"
      :options="Object.values(OVER)"
      :label="`When the ${target.measure} target of ${className} holds`"
      @commit="(w) => change({ over: w === OVER.all ? 'all' : 'worst-hour' })" /><template v-if="target.at"
      >{{ ' '
      }}<EditableChoice
        :value="AT[target.at]"
        :options="Object.values(AT)"
        :label="`Where the ${target.measure} target of ${className} holds`"
        @commit="(w) => change({ at: w === AT.caller ? 'caller' : 'service' })" /></template
  ></template>
</template>
