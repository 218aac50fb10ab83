<script setup lang="ts">
import { threeDigits, type Timeline } from '@sandclock/core'
import { computed } from 'vue'
import Glass from '../glass/Glass.vue'

/** The replicas under the cursor, a glass each. */
const props = defineProps<{ timeline: Timeline; replicas: number; maxSequences: number; ready: boolean; cursorSeconds: number }>()

const MOST_GLASSES = 40
/** Waiting requests that fill the upper bulb: as many as could be in service. */
const glasses = computed(() => {
  const { timeline } = props
  const at = (props.cursorSeconds - timeline.fromSeconds) / (timeline.untilSeconds - timeline.fromSeconds)
  const piece = Math.min(timeline.pieces - 1, Math.max(0, Math.floor(at * timeline.pieces)))
  return Array.from({ length: Math.min(MOST_GLASSES, props.replicas) }, (_, r) => {
    const inService = timeline.inService[r * timeline.pieces + piece] ?? 0
    const waiting = timeline.boundWaiting[r * timeline.pieces + piece] ?? 0
    return {
      waiting: waiting / props.maxSequences, inService: inService / props.maxSequences,
      label: `Replica ${r + 1}: ${props.ready ? `${threeDigits(inService)} in service, ${threeDigits(waiting)} waiting` : 'starting up'}`,
    }
  })
})
</script>

<template>
  <div class="flex flex-wrap items-center gap-1.5">
    <Glass v-for="(g, r) in glasses" :key="r" :waiting="g.waiting" :in-service="g.inService" :ready="ready" :label="g.label" :class="replicas > 12 ? 'h-7' : 'h-11'" />
    <span v-if="replicas > MOST_GLASSES" class="text-[0.86rem] text-faded">and {{ replicas - MOST_GLASSES }} more</span>
  </div>
</template>
