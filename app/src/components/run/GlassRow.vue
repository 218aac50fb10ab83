<script setup lang="ts">
import { Stage, stageAt, STAGES, threeDigits, type Timeline } from '@sandclock/core'
import { computed } from 'vue'
import type { FleetView } from '../../worker/runViews.ts'
import Glass from '../glass/Glass.vue'

/** The replicas under the cursor, a glass each. */
const props = defineProps<{
  timeline: Timeline
  replicas: number
  maxSequences: number
  ready: boolean
  cursorSeconds: number
  fleet: FleetView | null
}>()

const MOST_GLASSES = 40
/** Waiting requests that fill the upper bulb: as many as could be in service. */
const glasses = computed(() => {
  const { timeline } = props
  const span = timeline.untilSeconds - timeline.fromSeconds
  // A cursor that lies beyond what is shown reads its edge.
  const at = Math.min(timeline.untilSeconds - span / timeline.pieces / 2, Math.max(timeline.fromSeconds, props.cursorSeconds))
  const piece = Math.floor(((at - timeline.fromSeconds) / span) * timeline.pieces)
  return Array.from({ length: Math.min(MOST_GLASSES, props.replicas) }, (_, r) => {
    const inService = timeline.inService[r * timeline.pieces + piece] ?? 0
    const waiting = timeline.boundWaiting[r * timeline.pieces + piece] ?? 0
    const stage = props.fleet ? stageAt(props.fleet.spans, r, at) : props.ready ? Stage.ready : Stage.warmup
    return {
      ready: stage === Stage.ready || stage === Stage.draining,
      there: stage !== Stage.none,
      waiting: waiting / props.maxSequences,
      inService: inService / props.maxSequences,
      label: `Replica ${r + 1}: ${stage === Stage.ready || stage === Stage.draining ? `${threeDigits(inService)} in service, ${threeDigits(waiting)} waiting` : stage === Stage.none ? 'not there' : `starting up: ${STAGES[stage]}`}`,
    }
  })
})
</script>

<template>
  <div class="flex flex-wrap items-center gap-1.5">
    <Glass
      v-for="(g, r) in glasses"
      :key="r"
      :waiting="g.waiting"
      :in-service="g.inService"
      :ready="g.ready"
      :label="g.label"
      :style="{ opacity: g.there ? 1 : 0.25 }"
      :class="replicas > 12 ? 'h-7' : 'h-11'" />
    <span v-if="replicas > MOST_GLASSES" class="text-[0.86rem] text-faded">and {{ replicas - MOST_GLASSES }} more</span>
  </div>
</template>
