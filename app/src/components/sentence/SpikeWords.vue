<script setup lang="ts">
import { clock, type Spike } from '@sandclock/core'
import EditableFigure from './EditableFigure.vue'

/** One spike, in words. */
defineProps<{ spike: Spike; start: string; className: string }>()
const emit = defineEmits<{ change: [spike: Spike]; remove: [] }>()
</script>

<template>
  <EditableFigure
    :value="spike.factor"
    kind="factor"
    :min="0.01"
    :max="100"
    :label="`Factor of the spike of ${className}`"
    @commit="(factor) => emit('change', { ...spike, factor })" />
  that from {{ clock(start, spike.startSeconds) }} (<EditableFigure
    :value="spike.startSeconds"
    kind="duration"
    :min="0"
    :label="`Start of the spike of ${className}`"
    @commit="(startSeconds) => emit('change', { ...spike, startSeconds })" />
  in) for
  <EditableFigure
    :value="spike.durationSeconds"
    kind="duration"
    :min="60"
    :label="`Length of the spike of ${className}`"
    @commit="(durationSeconds) => emit('change', { ...spike, durationSeconds })" />
  (<button type="button" class="word text-sm" :aria-label="`Take the spike of ${className} out`" @click="emit('remove')">take out</button
  >{{ ')' }}
</template>
