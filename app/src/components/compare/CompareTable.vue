<script setup lang="ts">
import { bare, HOURS_PER_MONTH, limitWords, measureWords, percent, price, threeDigits, valueWords } from '@sandclock/core'
import { computed } from 'vue'
import { classColour } from '../../composables/classColour.ts'
import type { PinnedRun } from '../../worker/runViews.ts'

/** The pinned runs in figures, each beside its difference to the reference. */
const props = defineProps<{ runs: readonly PinnedRun[]; reference: number; currency: string; horizonSeconds: number }>()

/** From so much more on a factor is easier to read than a percentage. */
const TIMES = 2

interface Row {
  name: string
  cells: { words: string; difference: string; good: boolean | null }[]
}

/** Relative change in words; nothing for the reference itself. */
function change(value: number, reference: number, own: boolean): { difference: string; good: boolean | null } {
  if (own || !Number.isFinite(value) || !Number.isFinite(reference) || reference === 0) return { difference: '', good: null }
  const share = value / reference - 1
  if (share >= TIMES) return { difference: `${bare(threeDigits(share + 1))} ×`, good: false }
  if (Math.abs(share) < 5e-4) return { difference: 'the same', good: null }
  return { difference: `${share > 0 ? '+' : '−'}${percent(Math.abs(share))}`, good: share < 0 }
}
const meanReady = (run: PinnedRun) =>
  run.ready.values.reduce(
    (sum, v, i) =>
      sum +
      v *
        (Math.min(props.horizonSeconds, run.ready.seconds[i + 1] ?? props.horizonSeconds) -
          Math.min(props.horizonSeconds, run.ready.seconds[i])),
    0,
  ) / props.horizonSeconds

const rows = computed<Row[]>(() => {
  const reference = props.runs[props.reference]
  const line = (name: string, value: (run: PinnedRun) => number, words: (run: PinnedRun) => string): Row => ({
    name,
    cells: props.runs.map((run, i) => ({ words: words(run), ...change(value(run), value(reference), i === props.reference) })),
  })
  return [
    line(
      'a month',
      (r) => r.perHour,
      (r) => price(r.perHour * HOURS_PER_MONTH, props.currency),
    ),
    line('replicas ready, on average', meanReady, (r) => bare(threeDigits(meanReady(r)))),
    ...reference.promises.map(({ className, target }, p) =>
      line(
        `${className}, ${measureWords(target)} (limit ${limitWords(target)})`,
        (r) => r.promises[p].value ?? NaN,
        (r) => `${valueWords(target, r.promises[p].value)}${r.promises[p].strain > 1 ? ' misses' : ''}`,
      ),
    ),
  ]
})
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="region" aria-label="The comparison in figures">
    <table class="exact">
      <thead>
        <tr>
          <th scope="col">first draw of the load</th>
          <th v-for="(_, i) in runs" :key="i" scope="col" class="number" :style="{ color: classColour(i) }">
            {{ String.fromCharCode(65 + i) }}{{ i === reference ? ', the reference' : '' }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <th scope="row" class="text-left font-normal">
            {{ row.name }}
          </th>
          <td v-for="(cell, i) in row.cells" :key="i" class="number" :class="cell.words.endsWith('misses') ? 'text-rust' : ''">
            {{ cell.words
            }}<span
              v-if="cell.difference"
              class="ml-2 text-[0.84em]"
              :class="cell.good === null ? 'text-faded' : cell.good ? 'text-moss' : 'text-rust'"
              >{{ cell.difference }}</span
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
