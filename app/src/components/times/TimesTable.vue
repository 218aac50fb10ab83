<script setup lang="ts">
import { duration, grouped, type Distribution } from '@sandclock/core'
import { computed } from 'vue'
import LineSwatch from '../../charts/LineSwatch.vue'

/** Percentiles of how long it took, a run a row: what the picture shows, as figures. */
const props = defineProps<{ runs: readonly { key: string; name: string; colour: string; dash: readonly number[]; of: Distribution }[] }>()

const HEADER = ['requests', 'below 10 µs', 'mean', 'p50', 'p90', 'p95', 'p99', 'longest', 'lost']
const rows = computed(() =>
  props.runs.map(({ of: { spread, belowFirst, lost }, ...run }) => ({
    ...run,
    cells: [
      grouped(spread.count, 0),
      grouped(belowFirst, 0),
      ...(['mean', 'p50', 'p90', 'p95', 'p99', 'max'] as const).map((p) => duration(spread[p])),
      grouped(lost, 0),
    ],
  })),
)
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="region" aria-label="Figures of how long it took">
    <table class="exact w-full text-[0.88rem]">
      <thead>
        <tr>
          <th scope="col">run</th>
          <th v-for="h in HEADER" :key="h" scope="col" class="number">{{ h }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in rows" :key="r.key">
          <td><LineSwatch v-if="rows.length > 1" :colour="r.colour" :dash="i === 0 ? [] : r.dash" /> {{ r.name }}</td>
          <td v-for="(cell, k) in r.cells" :key="k" class="number">{{ cell }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
