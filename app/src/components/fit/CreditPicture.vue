<script setup lang="ts">
import { duration, percent, threeDigits, type Comparison, type Credit, type FitRow } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import { placeWords } from '../../composables/fitOrder.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** What causes the difference between two combinations: each cause a step on a scale of multiples, one change at a time. */
const props = defineProps<{ comparison: Comparison; from: FitRow; to: FitRow; currency: string }>()
const emit = defineEmits<{ unpin: [] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const NAMES: Record<Credit['figure'], [token: string, request: string]> = {
  alone: ['a token alone', 'a request alone'], full: ['a token beside others', 'a full batch'], prefill: ['prefill of the mean prompt', ''], rate: ['tokens a second', 'requests a second'], 'for money': ['tokens for 1', 'requests for 1'],
}
const hasTokens = computed(() => props.to.speed?.kind === 'token' || props.from.speed?.kind === 'token')
const name = (c: Credit) => `${NAMES[c.figure][hasTokens.value ? 0 : 1]}${c.figure === 'for money' ? ` ${props.currency}` : ''}`
const value = (c: Credit, v: number) => (c.figure === 'rate' || c.figure === 'for money' ? threeDigits(v) : duration(v))
const shown = computed(() => props.comparison.credits.filter((c) => hasTokens.value || c.figure !== 'prefill'))

const LEFT = 345
const RIGHT = 135
const STEP = 15
const LEAST_ROW = 40
/** Multiples from ¼ to 4 and beyond, by their logarithm. */
const reach = computed(() => Math.max(Math.log2(1.5), ...shown.value.flatMap((c) => {
  let at = 0
  return c.causes.map((x) => Math.abs((at += Math.log2(x.times))))
})))
const x = computed(() => scaleLinear([-reach.value, reach.value], [LEFT, Math.max(LEFT + 80, width.value - RIGHT)]))
function steps(c: Credit) {
  let at = 0
  let line = 0
  return c.causes.map((cause) => {
    const from = at
    at += Math.log2(cause.times)
    return { ...cause, line: same(cause.times) ? -1 : line++, from, to: at, better: c.figure === 'rate' || c.figure === 'for money' ? cause.times > 1 : cause.times < 1 }
  })
}
/** Where each figure's rows begin: a line for every cause that does something. */
const tops = computed(() => {
  let y = 0
  const out = shown.value.map((c) => {
    const top = y
    y += Math.max(LEAST_ROW, c.causes.filter((x) => !same(x.times)).length * STEP + 12)
    return top
  })
  return [...out, y]
})
const bottom = computed(() => tops.value.at(-1) ?? 0)
const same = (times: number) => Math.abs(Math.log2(times)) < 0.004
const words = (r: FitRow) => `${r.machine}, ${r.variant}${placeWords(r) ? ` ${placeWords(r)}` : ''}`
const multiple = (t: number) => `× ${threeDigits(t)}`
const QUALITY: Record<Comparison['quality']['verdict'], string> = {
  better: 'Its answers are better', worse: 'Its answers are worse', undecided: 'Whether its answers are better or worse is undecided', unknown: 'One of the two has no quality score',
}
</script>

<template>
  <section ref="box" aria-label="What causes the difference" class="mb-3">
    <p class="font-serif text-[1.05rem]">
      From {{ words(from) }} to {{ words(to) }}<template v-if="comparison.differ.length > 0">: {{ comparison.differ.join(', ') }} {{ comparison.differ.length === 1 ? 'differs' : 'differ' }}</template>.
      {{ QUALITY[comparison.quality.verdict] }}<template v-if="comparison.quality.verdict !== 'unknown'"> ({{ comparison.quality.difference < 0 ? '' : '+' }}{{ percent(comparison.quality.difference) }}, 95 % interval {{ percent(comparison.quality.low) }} to {{ percent(comparison.quality.high) }})</template>.
      <button type="button" class="word font-sans text-[0.86rem]" @click="emit('unpin')">unpin</button>
    </p>
    <p v-if="comparison.reason" class="text-rust">Nothing can be credited: {{ comparison.reason }}.</p>
    <p v-else-if="comparison.differ.length === 0" class="text-faded">The two do not differ in what costs time.</p>
    <svg v-else :width="width" :height="bottom + 22" role="img" aria-label="Each cause with what it multiplies a figure by; the table below has the same">
      <line :x1="x(0)" :x2="x(0)" y1="4" :y2="bottom + 4" stroke="var(--ink)" />
      <text :x="x(0)" :y="bottom + 18" text-anchor="middle" class="chart-axis">as it was</text>
      <text :x="x(reach)" :y="bottom + 18" text-anchor="end" class="chart-axis">× {{ threeDigits(2 ** reach) }}</text><text :x="x(-reach)" :y="bottom + 18" class="chart-axis">× {{ threeDigits(2 ** -reach) }}</text>
      <g v-for="(c, i) in shown" :key="c.figure" :transform="`translate(0,${tops[i]})`">
        <text x="0" y="16" class="chart-name" fill="var(--ink)">{{ name(c) }}</text>
        <text x="0" y="31" class="chart-axis">{{ value(c, c.from) }} → {{ value(c, c.to) }}</text>
        <g v-for="s in steps(c)" :key="s.factor">
          <template v-if="!same(s.times)">
            <rect :x="Math.min(x(s.from), x(s.to))" :y="6 + s.line * STEP" :width="Math.abs(x(s.to) - x(s.from))" :height="STEP - 5" :fill="s.better ? 'var(--moss)' : 'var(--rust)'" :opacity="0.85" />
            <line :x1="x(s.to)" :x2="x(s.to)" :y1="6 + s.line * STEP" :y2="6 + (s.line + 1) * STEP" stroke="var(--faded)" stroke-width="0.600" />
            <text :x="s.to < s.from ? Math.min(x(s.from), x(s.to)) - 4 : Math.max(x(s.from), x(s.to)) + 4" :y="6 + s.line * STEP + 9" :text-anchor="s.to < s.from ? 'end' : 'start'" class="chart-label">{{ s.factor }} {{ multiple(s.times) }}</text>
          </template>
        </g>
      </g>
    </svg>
    <details v-if="shown.length > 0" class="text-[0.86rem]">
      <summary class="cursor-pointer text-water">Exact figures; how they are found</summary>
      <p class="my-1 max-w-[60rem] text-faded">Step costs are derived with {{ comparison.sequences }} side by side. Each cause is changed alone, whatever the others are, and what it multiplies a figure by is averaged over all orders; the causes multiply to the whole.</p>
      <table class="exact max-w-[52rem]">
        <thead><tr><th scope="col">figure</th><th scope="col" class="number">from</th><th scope="col" class="number">to</th><th v-for="f in comparison.differ" :key="f" scope="col" class="number">{{ f }}</th><th scope="col" class="number">all together</th></tr></thead>
        <tbody><tr v-for="c in shown" :key="c.figure"><td>{{ name(c) }}</td><td class="number">{{ value(c, c.from) }}</td><td class="number">{{ value(c, c.to) }}</td><td v-for="s in c.causes" :key="s.factor" class="number">{{ multiple(s.times) }}</td><td class="number">{{ multiple(c.to / c.from) }}</td></tr></tbody>
      </table>
    </details>
  </section>
</template>
