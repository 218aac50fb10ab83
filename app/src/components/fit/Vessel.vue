<script setup lang="ts">
import { bytes, type FitRow } from '@sandclock/core'
import { computed } from 'vue'
import { vesselParts } from '../../composables/vesselParts.ts'

/** The memory of one replica as a vessel lying on its side. Weights that are too large run over its end. */
const props = defineProps<{ row: FitRow }>()

/** Every vessel is as long, so that fullness can be compared down the column; the rest is for what runs over. */
const VESSEL_PERCENT = 78
const parts = computed(() => vesselParts(props.row))
const overflow = computed(() => {
  const m = props.row.memory
  return m && m.weightBytes > m.totalBytes ? Math.min(100, (VESSEL_PERCENT * m.weightBytes) / m.totalBytes) : 0
})
const share = (size: number) => Math.min(100, (100 * size) / (props.row.memory?.totalBytes ?? 1))
</script>

<template>
  <div class="relative">
    <span v-if="overflow > 0" aria-hidden="true" class="over" :style="{ width: `${overflow}%` }" />
    <div class="vessel" :style="{ width: `${VESSEL_PERCENT}%` }" :title="parts.map((p) => `${p.name} ${bytes(p.bytes)}`).join(', ')">
      <span v-for="p in parts" :key="p.name" :class="`part-${p.fill}`" :style="{ width: `${share(p.bytes)}%` }" />
    </div>
  </div>
</template>

<style scoped>
.over {
  position: absolute;
  inset: 0 auto 0 0;
  border: 1.2px dashed var(--rust);
  border-left: 0;
}
.vessel {
  position: relative;
  display: flex;
  height: 15px;
  overflow: hidden;
  border: 1.2px solid var(--ink);
  border-radius: 0 8px 8px 0;
  background: var(--leaf);
}
.vessel > span {
  flex: none;
}
</style>
