<script setup lang="ts">
import type { Size } from '@sandclock/core'
import EditableFigure from './EditableFigure.vue'

/** A distribution of sizes, in words. */
const props = defineProps<{ size: Size; what: string; unit: string }>()
const emit = defineEmits<{ change: [size: Size] }>()

function lognormal(patch: { median?: number; p95?: number }): void {
  if (props.size.kind !== 'lognormal') return
  const next = { ...props.size, ...patch }
  // Pulling one end past the other moves both, so that no intermediate state is refused.
  if (next.p95 < next.median) next[patch.median === undefined ? 'median' : 'p95'] = patch.median ?? patch.p95 ?? next.median
  emit('change', next)
}
</script>

<template>
  <template v-if="size.kind === 'lognormal'">
    <EditableFigure :value="size.median" kind="number" :min="1" :label="`Median ${what}`" @commit="(median) => lognormal({ median })" />
    {{ unit }} (95 of 100 under
    <EditableFigure
      :value="size.p95"
      kind="number"
      :min="1"
      :label="`95th percentile of ${what}`"
      @commit="(p95) => lognormal({ p95 })" />)</template
  >
  <template v-else-if="size.kind === 'fixed'">
    always
    <EditableFigure :value="size.value" kind="count" :min="1" :label="what" @commit="(value) => emit('change', { kind: 'fixed', value })" />
    {{ unit }}</template
  >
  <template v-else-if="size.kind === 'exponential'">
    <EditableFigure
      :value="size.mean"
      kind="number"
      :min="1"
      :label="`Mean ${what}`"
      @commit="(mean) => emit('change', { kind: 'exponential', mean })" />
    {{ unit }} on average</template
  >
  <template v-else-if="size.kind === 'empirical'">{{ size.values.length }} measured values</template>
  <template v-else>as the log has them</template>
</template>
