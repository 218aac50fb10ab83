<script setup lang="ts">
import {
  callersWords,
  clock,
  duration,
  grouped,
  MEASURE_NAMES,
  percent,
  servedWords,
  threeDigits,
  type LateSums,
  type Measure,
  type Plan,
  type RunSummary,
} from '@sandclock/core'
import { computed } from 'vue'
import LateBar from './LateBar.vue'
import MetPicture from './MetPicture.vue'

/** What a run says as a whole: in words, where late time went as one bar to scale, and every measure as a table. */
const props = defineProps<{
  plan: Plan
  run: RunSummary
  remarks: readonly string[]
  late: LateSums
  window: string
  cursorSeconds: number
}>()

const MEASURES: readonly Measure[] = ['wait', 'ttft', 'tpot', 'latency']
const served = computed(() => {
  const { requestsPerSecond, inputTokensPerSecond, outputTokensPerSecond } = props.run
  const tokens =
    outputTokensPerSecond === null
      ? ''
      : `, ${threeDigits(inputTokensPerSecond)} prompt and ${threeDigits(outputTokensPerSecond)} answer tokens a second`
  return `It serves ${threeDigits(requestsPerSecond)} requests a second${tokens}.`
})
const use = computed(() => {
  const { busyShare, meanBatch, cacheShare } = props.run.replicas
  const batch = meanBatch === null ? '' : `, with ${servedWords(meanBatch, props.run.slotsEach)}`
  const cache = cacheShare === null ? '' : `; the cache is ${percent(cacheShare)} full on average`
  return `Its replicas have something to do ${percent(busyShare)} of the time${batch}${cache}.`
})
const each = computed(
  () =>
    (props.late.machineSeconds + props.late.startUpSeconds + props.late.queueSeconds + props.late.othersSeconds + props.late.ownSeconds) /
    Math.max(1, props.late.late),
)
const rows = computed(() => {
  const all = props.run.classes.length > 1 ? [...props.run.classes, props.run.overall] : props.run.classes
  return all.flatMap((c) =>
    MEASURES.filter((m) => c.spreads[m].count > 0).map((m) => {
      const worst = c.worstHours[m]
      const { mean, p50, p90, p95, p99 } = c.spreads[m]
      return [
        c.className,
        MEASURE_NAMES[m],
        duration(mean),
        duration(p50),
        duration(p90),
        duration(p95),
        duration(p99),
        worst ? `${duration(worst.p95)} from ${clock(props.plan.horizon.start, worst.fromSeconds)}` : '–',
      ]
    }),
  )
})
</script>

<template>
  <section class="mt-4" aria-label="What the run says">
    <p class="font-serif text-[1.02rem]"> {{ served }} {{ use }} </p>
    <p v-for="remark in remarks" :key="remark" class="font-serif text-[1.02rem] text-rust">
      {{ remark }}
    </p>
    <p v-for="words in callersWords(plan, run.met)" :key="words" class="mt-2 font-serif text-[1.02rem]">{{ words }}.</p>
    <MetPicture :plan="plan" :met="run.met" :cursor-seconds="cursorSeconds" />
    <template v-if="late.late > 0">
      <p class="mt-2 font-serif text-[1.02rem]">
        {{ window }} {{ grouped(late.late, 0) }} requests {{ late.late === 1 ? 'was' : 'were' }} late. They took
        {{ duration(each) }} each:</p
      >
      <LateBar :late="late" />
    </template>
    <p v-else class="mt-2 font-serif text-[1.02rem]"> {{ window }} no request was late.</p>
    <div class="mt-3 overflow-x-auto" tabindex="0" role="region" aria-label="Measures of the run">
      <table class="exact w-full text-[0.88rem]">
        <thead>
          <tr>
            <th scope="col">class</th>
            <th scope="col">measure</th>
            <th scope="col">mean</th>
            <th scope="col">p50</th>
            <th scope="col">p90</th>
            <th scope="col">p95</th>
            <th scope="col">p99</th>
            <th scope="col">p95 of the worst hour</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="`${row[0]} ${row[1]}`">
            <td v-for="(cell, i) in row" :key="i">
              {{ cell }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
