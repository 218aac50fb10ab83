<script setup lang="ts">
import {
  bare,
  fleetWords,
  measureWords,
  price,
  purchaseSuffix,
  sizedKey,
  threeDigits,
  valueWords,
  waysWords,
  HOURS_PER_MONTH,
  type Dust,
  type FrontierPoint,
  type RejectedOption,
  type Target,
} from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed, ref, useTemplateRef, watch } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across, upward } from '../../charts/plot.ts'
import type { Axis, Mark, Point, Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'
import { nearestGrain } from './grains.ts'

/**
 * Cost against the tightest promise: below the line an option holds, above it misses. The step line joins the cheapest
 * that reach each height. Grains are all options that were ruled out, at the best that is known of them. Arrow keys walk the
 * points by cost, and up and down the grains.
 */
const props = defineProps<{
  points: readonly FrontierPoint[]
  dust: Dust
  rejected: readonly RejectedOption[]
  targets: readonly { className: string; target: Target }[]
  currency: string
  chosen: string
  height: number
}>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 84, right: 20, top: 14, bottom: 36 }
const NEVER = 3
const LEAST = 0.05
const GRAIN = 2.5
/** Pixels within which the pointer means a point, and a grain. */
const POINT_REACH = 11
const GRAIN_REACH = 14

const within = (strain: number) => Math.min(NEVER, Math.max(LEAST, strain))
const strain = (p: FrontierPoint) => within(p.strain ?? NEVER)
const sorted = computed(() => [...props.points].sort((a, b) => a.perHour - b.perHour))
/** The chosen one lies on top of those that cost and strain the same. */
const drawn = computed(() => [
  ...sorted.value.filter((p) => sizedKey(p) !== props.chosen),
  ...sorted.value.filter((p) => sizedKey(p) === props.chosen),
])
const costs = computed(() => {
  const { perHour } = props.dust
  const ends = perHour.length > 0 ? [perHour[0], perHour[perHour.length - 1]] : []
  return [...sorted.value.map((p) => p.perHour), ...ends].map((c) => c * HOURS_PER_MONTH)
})
const x = computed(() => scaleLog([Math.min(...costs.value) / 1.12, Math.max(...costs.value) * 1.25], across(PLOT, width.value)))
const strains = computed(() =>
  [...props.points.map(strain), ...props.dust.strain].reduce(
    ([low, high], s) => [Math.min(low, within(s)), Math.max(high, within(s))],
    [0.5, 1.3],
  ),
)
const y = computed(() => scaleLog([strains.value[0] / 1.15, strains.value[1] * 1.08], upward(PLOT, props.height)))
const xAxis = computed((): Axis => ({
  scale: x.value,
  log: true,
  ticks: x.value
    .ticks(6)
    .filter((t) => /^[125]/.test(String(t)))
    .map((t) => ({ at: t, label: price(t, props.currency) })),
}))
const yAxis = computed((): Axis => ({
  scale: y.value,
  log: true,
  ticks: [0.1, 0.2, 0.5, 1, 2, NEVER]
    .filter((v) => v < y.value.domain()[1] && v > y.value.domain()[0])
    .map((t) => ({ at: t, label: t === 1 ? 'the limit' : t === NEVER ? `${t} × or more` : `${t} ×` })),
}))
const marks = computed((): Mark[] => [
  { kind: 'area', y: [1, y.value.domain()[1]], colour: '--rust', alpha: 0.06 },
  { kind: 'line', y: 1, colour: '--rust', dash: [4, 3] },
])
const inside = (at: number, from: number, until: number) => at >= from && at <= until
const grainX = (i: number) => x.value(props.dust.perHour[i] * HOURS_PER_MONTH)
const grainY = (i: number) => y.value(within(props.dust.strain[i]))

const at = (p: FrontierPoint): Point => ({ x: p.perHour * HOURS_PER_MONTH, y: strain(p) })
/** Many grains on one place are darker than one. */
const dustSeries = computed((): Series[] =>
  [false, true].map((misses) => ({
    kind: 'points',
    shape: 'grain',
    radius: GRAIN / 2,
    colour: misses ? '--rust' : '--faded',
    alpha: props.dust.places.length > 4000 ? 0.3 : 0.5,
    points: Array.from(props.dust.places.keys())
      .filter((i) => props.dust.strain[i] > 1 === misses)
      .map((i) => ({ x: props.dust.perHour[i] * HOURS_PER_MONTH, y: within(props.dust.strain[i]) })),
  })),
)
const series = computed((): Series[] => {
  const isChosen = (p: FrontierPoint) => sizedKey(p) === props.chosen
  const some = (of: (p: FrontierPoint) => boolean) => drawn.value.filter(of).map(at)
  return [
    ...dustSeries.value,
    { kind: 'line', points: edge.value, colour: '--sand', width: 2, stepped: true },
    { kind: 'points', points: some((p) => !p.holds), colour: '--rust', shape: 'cross', radius: 6 },
    { kind: 'points', points: some((p) => p.holds && !isChosen(p)), colour: '--water', shape: 'disc', radius: 5 },
    // The chosen one lies on top of those that cost and strain the same.
    { kind: 'points', points: some((p) => p.holds && isChosen(p)), colour: '--sand', shape: 'disc', radius: 7 },
  ]
})

/** Where a name may stand beside its point: how far right and down, and whether it ends there. */
const BESIDE = [
  [10, -8, false],
  [10, 18, false],
  [-10, -8, true],
  [-10, 18, true],
] as const

/** Names of options that hold, where there is room: the chosen one first, then by cost. */
const labels = computed(() => {
  const placed: { x: number; y: number; width: number; words: string }[] = []
  const inOrder = [
    ...sorted.value.filter((p) => sizedKey(p) === props.chosen),
    ...sorted.value.filter((p) => p.holds && sizedKey(p) !== props.chosen),
  ]
  for (const p of inOrder) {
    const words = fleetWords(p)
    if (placed.length >= 7 || placed.some((o) => o.words === words)) continue
    const long = words.length * 6.3
    const label = BESIDE.map(([right, down, ends]) => ({
      x: x.value(p.perHour * HOURS_PER_MONTH) + right - (ends ? long : 0),
      y: y.value(strain(p)) + down,
      width: long,
      words,
    })).find((l) => {
      const overPoint = sorted.value.some(
        (q) =>
          q !== p && Math.abs(y.value(strain(q)) - l.y + 4) < 9 && inside(x.value(q.perHour * HOURS_PER_MONTH), l.x - 6, l.x + l.width + 6),
      )
      return (
        !overPoint &&
        l.x > PLOT.left &&
        l.x + l.width < width.value &&
        placed.every((o) => Math.abs(o.y - l.y) > 13 || l.x > o.x + o.width + 6 || o.x > l.x + l.width + 6)
      )
    })
    if (label) placed.push(label)
  }
  return placed
})
/** the point, or the grain, that is spoken of */
const active = ref<string | null>(null)
const grain = ref<number | null>(null)
watch(
  () => props.dust,
  () => (grain.value = null),
)
const shown = computed(() => props.points.find((p) => sizedKey(p) === (active.value ?? props.chosen)) ?? sorted.value[0])

/** The cheapest that reach each height. */
const edge = computed(() => {
  let best = Infinity
  return sorted.value.flatMap((p) => {
    if (!p.holds || strain(p) >= best) return []
    best = strain(p)
    return [at(p)]
  })
})
/** What is spoken of has a ring. */
const ringed = computed(() => {
  if (grain.value !== null) return { x: grainX(grain.value), y: grainY(grain.value), size: 12 }
  return shown.value && { x: x.value(at(shown.value).x), y: y.value(at(shown.value).y), size: 20 }
})

const optionWords = (o: Pick<RejectedOption, 'variant' | 'devices' | 'sequences' | 'policy' | 'purchase' | 'setting'>) =>
  `${purchaseSuffix(o.purchase)}, ${o.variant}${o.devices > 1 ? ` on ${o.devices}` : ''}, ${waysWords(o)}${o.policy ? `, ${o.policy}` : ''}`

function words(p: FrontierPoint): string {
  const t = props.targets[p.tightest]
  const value = t ? `${t.className} ${measureWords(t.target)} ${valueWords(t.target, p.strain === null ? Infinity : p.value)}` : ''
  return `${fleetWords(p)}${optionWords(p)}: ${price(p.perHour * HOURS_PER_MONTH, props.currency)} a month, ${value}, ${!p.holds ? 'misses' : p.value === null && p.strain !== null ? 'not measured' : 'holds'}`
}

function grainWords(i: number): string {
  const option = props.rejected[props.dust.places[i]]
  return option
    ? `${option.machine}${optionWords(option)}: no less than ${price(props.dust.perHour[i] * HOURS_PER_MONTH, props.currency)} a month, and at its best ${bare(threeDigits(props.dust.strain[i]))} times the limit. Ruled out: ${option.reason}`
    : ''
}

function walk(direction: 1 | -1): void {
  grain.value = null
  const now = sorted.value.findIndex((p) => sizedKey(p) === (active.value ?? props.chosen))
  const next = sorted.value[Math.min(sorted.value.length - 1, Math.max(0, now + direction))]
  if (next) active.value = sizedKey(next)
}
function walkGrains(steps: number): void {
  if (props.dust.places.length === 0) return
  grain.value = Math.min(props.dust.places.length - 1, Math.max(0, grain.value === null ? 0 : grain.value + steps))
}
function point(event: PointerEvent): void {
  const here = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const [px, py] = [event.clientX - here.left, event.clientY - here.top]
  const over = drawn.value.findLast((p) => Math.hypot(x.value(p.perHour * HOURS_PER_MONTH) - px, y.value(strain(p)) - py) <= POINT_REACH)
  active.value = over ? sizedKey(over) : null
  grain.value = over
    ? null
    : nearestGrain(
        props.dust,
        (i) => ({ x: grainX(i), y: grainY(i) }),
        x.value.invert(px - GRAIN_REACH) / HOURS_PER_MONTH,
        { x: px, y: py },
        GRAIN_REACH,
      )
}
function leave(): void {
  active.value = grain.value = null
}
</script>

<template>
  <div ref="box">
    <ChartPicture
      v-if="points.length + dust.places.length > 0"
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :marks="marks"
      :width="width"
      :height="height"
      tabindex="0"
      role="group"
      aria-label="Cost against the tightest promise; left and right walk the options that were run, up and down all others, by cost"
      @keydown.right.prevent="walk(1)"
      @keydown.left.prevent="walk(-1)"
      @keydown.up.prevent="walkGrains($event.ctrlKey ? 100 : 1)"
      @keydown.down.prevent="walkGrains($event.ctrlKey ? -100 : -1)"
      @pointermove="point"
      @pointerleave="leave">
      <span class="chart-word" :style="{ right: `${PLOT.right}px`, bottom: '-3px' }">a month</span>
      <span
        v-if="ringed"
        class="spoken-of"
        :style="{ left: `${ringed.x}px`, top: `${ringed.y}px`, width: `${ringed.size}px`, height: `${ringed.size}px` }" />
      <span v-for="l in labels" :key="`${l.x} ${l.y}`" class="chart-word point-name" :style="{ left: `${l.x}px`, top: `${l.y - 11}px` }">{{
        l.words
      }}</span>
    </ChartPicture>
    <p class="min-h-[2.6em] text-[0.9rem]" aria-live="polite">
      <template v-if="grain !== null"><span class="text-faded">Under the cursor: </span>{{ grainWords(grain) }}.</template>
      <template v-else-if="shown"
        ><span class="text-faded"
          >Dots hold, crosses miss; the line joins the cheapest at each height. Grains are all that was ruled out, no cheaper and no better
          than where they lie. {{ active === null ? 'Chosen' : 'Under the cursor' }}: </span
        >{{ words(shown) }}.</template
      >
      <span v-else class="text-faded">Grains are all that was ruled out, no cheaper and no better than where they lie.</span>
    </p>
  </div>
</template>

<style scoped>
.point-name {
  color: var(--color-ink);
  text-shadow:
    0 0 3px var(--color-paper),
    0 0 3px var(--color-paper),
    0 0 2px var(--color-paper);
}
</style>
