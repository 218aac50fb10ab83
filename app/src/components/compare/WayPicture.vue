<script setup lang="ts">
import { HOURS_PER_MONTH, MEASURE_NAMES, percent, price, type LeverEffect, type WayBetween } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { bareAxis, pixelAxis, type Mark, type Series } from '../../charts/spec.ts'
import { useRowPlaces } from '../../composables/useRowPlaces.ts'

/** The way from one run to another, one change at a time: what each does by itself to the cost and to the tightest promise. */
const props = defineProps<{ way: WayBetween & { done: boolean }; from: string; to: string; currency: string }>()

type Measured = keyof typeof MEASURE_NAMES
const month = (e: LeverEffect) => (e.perHour ?? 0) * HOURS_PER_MONTH
const strainWords = (e: LeverEffect) =>
  e.strain === null || !Number.isFinite(e.strain)
    ? 'not reached at all'
    : `${percent(e.strain)} of the limit${e.tightest ? ` (${MEASURE_NAMES[e.tightest as Measured]})` : ''}`
const lines = computed(() => {
  let last = props.way.before
  return props.way.steps.map((step) => {
    const before = last
    if (step.effect) last = step.effect
    return {
      ...step,
      more: step.effect ? month(step.effect) - month(before) : 0,
      holds: step.effect?.strain !== null && (step.effect?.strain ?? 2) <= 1,
    }
  })
})
const signed = (amount: number) =>
  Math.abs(amount) < 0.005 ? 'the same money' : `${amount > 0 ? '+' : '−'}${price(Math.abs(amount), props.currency)}`
const largest = computed(() => Math.max(1e-9, ...lines.value.map((l) => Math.abs(l.more))))
const list = useTemplateRef<HTMLElement>('list')
const places = useRowPlaces(list, '.drawn', () => lines.value)
const xAxis = computed(() => bareAxis(scaleLinear([-largest.value * 1.02, largest.value * 1.02], [0, places.value.width])))
const yAxis = computed(() => pixelAxis(places.value.height))
const marks: Mark[] = [{ kind: 'line', x: 0, colour: '--ink' }]
const series = computed((): Series[] =>
  [true, false].map((less) => ({
    kind: 'bars',
    thickness: 8,
    ink: less ? { colour: '--moss' } : { colour: '--rust', hatch: 'slant' },
    bars: lines.value
      .filter((l) => l.effect)
      .flatMap((l, i) =>
        l.more < 0 === less && places.value.middles[i] !== undefined ? [{ from: 0, until: l.more, at: places.value.middles[i] }] : [],
      ),
  })),
)
</script>

<template>
  <div>
    <p class="text-[0.95rem]"
      >From {{ from }} to {{ to }} {{ way.of }} things change. One after the other, each simulated on the same requests:<span
        v-if="!way.done"
        class="text-faded"
        role="status">
        {{ way.steps.length }} of {{ way.of }} so far</span
      >
    </p>
    <div ref="list" class="relative">
      <ol class="mt-1 text-[0.9rem]">
        <li class="way-row py-0.5">
          <span>{{ from }} as it is</span><span class="number text-right">{{ price(month(way.before), currency) }}</span
          ><span /><span :class="(way.before.strain ?? 2) <= 1 ? '' : 'text-rust'">{{ strainWords(way.before) }}</span>
        </li>
        <li v-for="l in lines" :key="l.what" class="way-row border-t border-rule py-0.5">
          <span
            >{{ l.what }}: {{ l.from }} → <strong class="font-semibold">{{ l.to }}</strong></span
          >
          <template v-if="l.effect">
            <span class="number text-right">{{ signed(l.more) }}</span>
            <span class="drawn h-3.5" />
            <span :class="l.holds ? '' : 'text-rust'">{{ strainWords(l.effect) }}</span>
          </template>
          <span v-else class="col-span-3 text-faded">can not be shown by itself: {{ l.reason }}</span>
        </li>
      </ol>
      <div v-if="places.width > 0" class="pointer-events-none absolute top-0" :style="{ left: `${places.left}px` }">
        <ChartPicture :x="xAxis" :y="yAxis" :series="series" :marks="marks" :width="places.width" :height="places.height" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.way-row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 8rem;
  align-items: center;
  column-gap: 1rem;
}
@media (width >= 40rem) {
  .way-row {
    grid-template-columns: minmax(14rem, 26rem) 8rem minmax(6rem, 1fr) 14rem;
  }
}
</style>
