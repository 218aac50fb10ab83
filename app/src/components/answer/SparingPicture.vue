<script setup lang="ts">
import {
  bare,
  duration,
  price,
  sparedWords,
  threeDigits,
  type Alteration,
  type Plan,
  type SparingReport,
  type SparingWay,
} from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Point, Series } from '../../charts/spec.ts'
import { makeWords } from '../../edits/makeWords.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** Ways of sparing cold callers: cold callers a week against money, what each one spared costs; the line joins those that nothing beats. */
const props = defineProps<{ report: SparingReport & { done: boolean }; plan: Plan; service: string; height: number }>()
const emit = defineEmits<{ make: [alteration: Alteration] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 84, right: 60, top: 24, bottom: 36 }
/** Labels nearer to each other than this are one. */
const APART = 16

const ways = computed(() => props.report.ways)
const base = computed(() => ways.value[0])
const most = computed(() => Math.max(1, ...ways.value.map((w) => w.coldAWeek)))
const costs = computed(() => ways.value.map((w) => w.perMonth))
const x = computed(() => scaleLinear([0, most.value * 1.05], across(PLOT, width.value)).nice(5))
const y = computed(() => scaleLinear([Math.min(...costs.value) * 0.9, Math.max(...costs.value) * 1.05], upward(PLOT, props.height)).nice(4))
const xAxis = computed((): Axis => ({ scale: x.value, ticks: x.value.ticks(6).map((t) => ({ at: t, label: bare(String(t)) })) }))
const yAxis = computed((): Axis => ({
  scale: y.value,
  ticks: y.value.ticks(4).map((t) => ({ at: t, label: price(t, props.plan.currency) })),
}))
const at = (w: SparingWay): Point => ({ x: w.coldAWeek, y: w.perMonth })
const frontier = computed(() => ways.value.filter((w) => w.onFrontier).sort((a, b) => a.coldAWeek - b.coldAWeek || a.perMonth - b.perMonth))
const series = computed((): Series[] => [
  { kind: 'line', points: frontier.value.map(at), colour: '--sand', width: 2, stepped: true },
  { kind: 'points', points: ways.value.filter((w) => w.holds).map(at), colour: '--water', shape: 'disc', radius: 4 },
  { kind: 'points', points: ways.value.filter((w) => !w.holds).map(at), colour: '--rust', shape: 'cross', radius: 4 },
  { kind: 'points', points: [at(base.value)], colour: '--ink', shape: 'ring', radius: 7 },
])
/** Numbers of those that lie at the same place stand beside each other. */
const labels = computed(() => {
  const places: { left: number; top: number; words: string[] }[] = []
  ways.value.forEach((w, i) => {
    const [left, top] = [x.value(w.coldAWeek), y.value(w.perMonth)]
    const near = places.find((p) => Math.abs(p.left - left) < APART && Math.abs(p.top - top) < APART)
    const words = i === 0 ? 'as it is' : String(i)
    if (near) near.words.push(words)
    else places.push({ left, top, words: [words] })
  })
  return places
})
const week = (n: number) => bare(threeDigits(n))
const said = computed(() => {
  const none = frontier.value[0]
  return `${week(base.value.coldAWeek)} callers a week find it cold; ${none === base.value ? 'nothing that was tried has fewer' : `with ${none.words} ${week(none.coldAWeek)} do, for ${price(none.perMonth - base.value.perMonth, props.plan.currency)} more a month`}.`
})
</script>

<template>
  <div ref="box">
    <ChartPicture :x="xAxis" :y="yAxis" :series="series" :width="width" :height="height" role="img" :aria-label="said">
      <span class="chart-word" :style="{ right: `${PLOT.right}px`, bottom: '-2px' }">cold callers a week</span>
      <span class="chart-word" :style="{ left: '0px', top: '-4px' }">a month</span>
      <span v-for="l in labels" :key="l.words[0]" class="chart-word" :style="{ left: `${l.left + 8}px`, top: `${l.top - 16}px` }">{{
        l.words.join(', ')
      }}</span>
    </ChartPicture>
    <div class="overflow-x-auto" tabindex="0" role="region" aria-label="Ways of sparing cold callers">
      <table class="exact mt-1 w-full">
        <thead>
          <tr>
            <th scope="col" />
            <th scope="col">with</th>
            <th scope="col" class="number">cold a week</th>
            <th scope="col" class="number">longest wait</th>
            <th scope="col" class="number">a month</th>
            <th scope="col" class="number">each one spared</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(w, i) in ways" :key="w.words" :class="w.onFrontier ? 'font-semibold' : ''">
            <td class="text-faded">{{ i === 0 ? '' : i }}</td>
            <td>{{ w.words }}<span v-if="!w.holds" class="font-normal text-rust">; not every promise is kept</span></td>
            <td class="number">{{ week(w.coldAWeek) }}</td>
            <td class="number">{{ w.longestSeconds > 0 ? duration(w.longestSeconds) : '–' }}</td>
            <td class="number">{{ price(w.perMonth, plan.currency) }}</td>
            <td class="number">{{ sparedWords(w, base, plan.currency) }}</td>
            <td
              ><button
                v-if="w.alteration"
                type="button"
                class="word whitespace-nowrap font-normal"
                :aria-label="`${makeWords(plan, service, w.alteration)}: ${w.words}`"
                @click="emit('make', w.alteration)"
                >{{ makeWords(plan, service, w.alteration) }}</button
              ></td
            >
          </tr>
        </tbody>
      </table>
    </div>
    <p class="mt-1 text-[0.82rem] text-faded"
      >Each change by itself, on the first draw of the load; in bold what nothing tried beats. A caller is cold who waits for a start-up,
      gives up on the way or is turned away asleep.</p
    >
  </div>
</template>
