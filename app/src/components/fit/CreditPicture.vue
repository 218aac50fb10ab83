<script setup lang="ts">
import { duration, percent, threeDigits, type Comparison, type Credit, type FitRow } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across } from '../../charts/plot.ts'
import { pixelAxis, type Axis, type Mark, type Series } from '../../charts/spec.ts'
import { placeWords } from '../../composables/fitOrder.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** What causes the difference between two combinations: each cause a step on a scale of multiples, one change at a time. */
const props = defineProps<{ comparison: Comparison; from: FitRow; to: FitRow; currency: string }>()
const emit = defineEmits<{ unpin: [] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const NAMES: Record<Credit['figure'], [token: string, request: string]> = {
  alone: ['a token alone', 'a request alone'],
  full: ['a token beside others', 'a full batch'],
  prefill: ['prefill of the mean prompt', ''],
  rate: ['tokens a second', 'requests a second'],
  'for money': ['tokens for 1', 'requests for 1'],
}
const hasTokens = computed(() => props.to.speed?.kind === 'token' || props.from.speed?.kind === 'token')
const name = (c: Credit) => `${NAMES[c.figure][hasTokens.value ? 0 : 1]}${c.figure === 'for money' ? ` ${props.currency}` : ''}`
const value = (c: Credit, v: number) => (c.figure === 'rate' || c.figure === 'for money' ? threeDigits(v) : duration(v))
const shown = computed(() => props.comparison.credits.filter((c) => hasTokens.value || c.figure !== 'prefill'))

const PLOT = { left: 345, right: 135 }
const STEP = 15
const LEAST_ROW = 40
/** Multiples from ¼ to 4 and beyond, by their logarithm. */
const reach = computed(() =>
  Math.max(
    Math.log2(1.5),
    ...shown.value.flatMap((c) => {
      let at = 0
      return c.causes.map((x) => Math.abs((at += Math.log2(x.times))))
    }),
  ),
)
const x = computed(() => scaleLinear([-reach.value, reach.value], across(PLOT, width.value, 80)))
function steps(c: Credit) {
  let at = 0
  let line = 0
  return c.causes.map((cause) => {
    const from = at
    at += Math.log2(cause.times)
    return {
      ...cause,
      line: same(cause.times) ? -1 : line++,
      from,
      to: at,
      better: c.figure === 'rate' || c.figure === 'for money' ? cause.times > 1 : cause.times < 1,
    }
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
const drawn = computed(() =>
  shown.value.flatMap((c, i) =>
    steps(c)
      .filter((s) => !same(s.times))
      .map((s) => ({ ...s, key: `${c.figure} ${s.factor}`, top: tops.value[i] + 6 + s.line * STEP })),
  ),
)
const xAxis = computed((): Axis => ({
  scale: x.value,
  rules: false,
  ticks: [
    { at: -reach.value, label: multiple(2 ** -reach.value) },
    { at: 0, label: 'as it was' },
    { at: reach.value, label: multiple(2 ** reach.value) },
  ],
}))
const yAxis = computed(() => pixelAxis(bottom.value + 4))
const series = computed((): Series[] => [
  ...[true, false].map((better): Series => ({
    kind: 'bars',
    thickness: STEP - 5,
    ink: better ? { colour: '--moss', alpha: 0.85 } : { colour: '--rust', hatch: 'slant' },
    bars: drawn.value.filter((s) => s.better === better).map((s) => ({ from: s.from, until: s.to, at: s.top + (STEP - 5) / 2 })),
  })),
  // Where one cause ends the next begins.
  ...drawn.value.map((s): Series => ({
    kind: 'line',
    colour: '--faded',
    width: 0.6,
    points: [
      { x: s.to, y: s.top },
      { x: s.to, y: s.top + STEP },
    ],
  })),
])
const marks: Mark[] = [{ kind: 'line', x: 0, colour: '--ink' }]
const same = (times: number) => Math.abs(Math.log2(times)) < 0.004
const words = (r: FitRow) => `${r.machine}, ${r.variant}${placeWords(r) ? ` ${placeWords(r)}` : ''}`
const multiple = (t: number) => `× ${threeDigits(t)}`
const QUALITY: Record<Comparison['quality']['verdict'], string> = {
  better: 'Its answers are better',
  worse: 'Its answers are worse',
  undecided: 'Whether its answers are better or worse is undecided',
  unknown: 'One of the two has no quality score',
}
</script>

<template>
  <section ref="box" aria-label="What causes the difference" class="mb-3">
    <p class="font-serif text-[1.05rem]">
      From {{ words(from) }} to {{ words(to)
      }}<template v-if="comparison.differ.length > 0"
        >: {{ comparison.differ.join(', ') }} {{ comparison.differ.length === 1 ? 'differs' : 'differ' }}</template
      >. {{ QUALITY[comparison.quality.verdict]
      }}<template v-if="comparison.quality.verdict !== 'unknown'">
        ({{ comparison.quality.difference < 0 ? '' : '+' }}{{ percent(comparison.quality.difference) }}, 95 % interval
        {{ percent(comparison.quality.low) }} to {{ percent(comparison.quality.high) }})</template
      >.
      <button type="button" class="word font-sans text-[0.86rem]" @click="emit('unpin')">unpin</button>
    </p>
    <p v-if="comparison.reason" class="text-rust">Nothing can be credited: {{ comparison.reason }}.</p>
    <p v-else-if="comparison.differ.length === 0" class="text-faded">The two do not differ in what costs time.</p>
    <ChartPicture
      v-else
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :marks="marks"
      :width="width"
      :height="bottom + 22"
      role="img"
      aria-label="Each cause with what it multiplies a figure by; the table below has the same">
      <p v-for="(c, i) in shown" :key="c.figure" class="chart-word" :style="{ left: 0, top: `${tops[i] + 4}px` }">
        <span class="chart-name block text-ink">{{ name(c) }}</span>{{ value(c, c.from) }} → {{ value(c, c.to) }}
      </p>
      <span
        v-for="s in drawn"
        :key="s.key"
        class="chart-word text-ink"
        :style="
          s.to < s.from ? { right: `${width - x(s.to) + 4}px`, top: `${s.top - 3}px` } : { left: `${x(s.to) + 4}px`, top: `${s.top - 3}px` }
        "
        >{{ s.factor }} {{ multiple(s.times) }}</span
      >
    </ChartPicture>
    <details v-if="shown.length > 0" class="text-[0.86rem]">
      <summary class="cursor-pointer text-water">Exact figures; how they are found</summary>
      <p class="my-1 max-w-[60rem] text-faded"
        >Step costs are derived with {{ comparison.sequences }} side by side. Each cause is changed alone, whatever the others are, and what
        it multiplies a figure by is averaged over all orders; the causes multiply to the whole.</p
      >
      <table class="exact max-w-[52rem]">
        <thead>
          <tr>
            <th scope="col">figure</th>
            <th scope="col" class="number">from</th>
            <th scope="col" class="number">to</th>
            <th v-for="f in comparison.differ" :key="f" scope="col" class="number">
              {{ f }}
            </th>
            <th scope="col" class="number">all together</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in shown" :key="c.figure">
            <td>
              {{ name(c) }}
            </td>
            <td class="number">
              {{ value(c, c.from) }}
            </td>
            <td class="number">
              {{ value(c, c.to) }}
            </td>
            <td v-for="s in c.causes" :key="s.factor" class="number">
              {{ multiple(s.times) }}
            </td>
            <td class="number">
              {{ multiple(c.to / c.from) }}
            </td>
          </tr>
        </tbody>
      </table>
    </details>
  </section>
</template>
