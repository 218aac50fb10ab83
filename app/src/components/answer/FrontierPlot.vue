<script setup lang="ts">
import { bare, fleetWords, measureWords, price, purchaseSuffix, sizedKey, threeDigits, valueWords, waysWords, HOURS_PER_MONTH, type Dust, type FrontierPoint, type RejectedOption, type Target } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { token } from '../../composables/classColour.ts'
import { sharpPen } from '../../composables/sharpPen.ts'
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
  theme: string
  height: number
}>()

const box = useTemplateRef<HTMLElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const width = useWidth(box)
const LEFT = 84
const RIGHT = 20
const TOP = 14
const BOTTOM = 36
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
const drawn = computed(() => [...sorted.value.filter((p) => sizedKey(p) !== props.chosen), ...sorted.value.filter((p) => sizedKey(p) === props.chosen)])
const costs = computed(() => {
  const { perHour } = props.dust
  const ends = perHour.length > 0 ? [perHour[0], perHour[perHour.length - 1]] : []
  return [...sorted.value.map((p) => p.perHour), ...ends].map((c) => c * HOURS_PER_MONTH)
})
const x = computed(() => scaleLog([Math.min(...costs.value) / 1.12, Math.max(...costs.value) * 1.25], [LEFT, width.value - RIGHT]))
const strains = computed(() => [...props.points.map(strain), ...props.dust.strain].reduce(([low, high], s) => [Math.min(low, within(s)), Math.max(high, within(s))], [0.5, 1.3]))
const y = computed(() => scaleLog([strains.value[0] / 1.15, strains.value[1] * 1.08], [props.height - BOTTOM, TOP]))
const ticks = computed(() => x.value.ticks(6).filter((t) => /^[125]/.test(String(t))))
const inside = (at: number, from: number, until: number) => at >= from && at <= until
const grainX = (i: number) => x.value(props.dust.perHour[i] * HOURS_PER_MONTH)
const grainY = (i: number) => y.value(within(props.dust.strain[i]))

function draw(): void {
  const pen = sharpPen(canvas.value, width.value, props.height)
  if (!pen) return
  pen.globalAlpha = props.dust.places.length > 4000 ? 0.3 : 0.5
  for (const misses of [false, true]) {
    pen.fillStyle = token(misses ? '--rust' : '--faded')
    for (let i = 0; i < props.dust.places.length; i++) if (props.dust.strain[i] > 1 === misses) pen.fillRect(grainX(i) - GRAIN / 2, grainY(i) - GRAIN / 2, GRAIN, GRAIN)
  }
}
onMounted(draw)
watch([() => props.dust, () => props.points, width, () => props.theme], () => requestAnimationFrame(draw))

/** Where a name may stand beside its point: how far right and down, and whether it ends there. */
const BESIDE = [[10, -8, false], [10, 18, false], [-10, -8, true], [-10, 18, true]] as const

/** Names of options that hold, where there is room: the chosen one first, then by cost. */
const labels = computed(() => {
  const placed: { x: number; y: number; width: number; words: string }[] = []
  const inOrder = [...sorted.value.filter((p) => sizedKey(p) === props.chosen), ...sorted.value.filter((p) => p.holds && sizedKey(p) !== props.chosen)]
  for (const p of inOrder) {
    const words = fleetWords(p)
    if (placed.length >= 7 || placed.some((o) => o.words === words)) continue
    const long = words.length * 6.3
    const label = BESIDE.map(([right, down, ends]) => ({ x: x.value(p.perHour * HOURS_PER_MONTH) + right - (ends ? long : 0), y: y.value(strain(p)) + down, width: long, words })).find((l) => {
      const overPoint = sorted.value.some((q) => q !== p && Math.abs(y.value(strain(q)) - l.y + 4) < 9 && inside(x.value(q.perHour * HOURS_PER_MONTH), l.x - 6, l.x + l.width + 6))
      return !overPoint && l.x > LEFT && l.x + l.width < width.value && placed.every((o) => Math.abs(o.y - l.y) > 13 || l.x > o.x + o.width + 6 || o.x > l.x + l.width + 6)
    })
    if (label) placed.push(label)
  }
  return placed
})
/** the point, or the grain, that is spoken of */
const active = ref<string | null>(null)
const grain = ref<number | null>(null)
watch(() => props.dust, () => (grain.value = null))
const shown = computed(() => props.points.find((p) => sizedKey(p) === (active.value ?? props.chosen)) ?? sorted.value[0])

const edge = computed(() => {
  let best = Infinity
  let d = ''
  for (const p of sorted.value) {
    if (!p.holds || strain(p) >= best) continue
    const at = `${x.value(p.perHour * HOURS_PER_MONTH).toFixed(1)},${y.value(strain(p)).toFixed(1)}`
    d += d === '' ? `M${at}` : `H${at.split(',')[0]}V${at.split(',')[1]}`
    best = strain(p)
  }
  return d
})

const optionWords = (o: Pick<RejectedOption, 'variant' | 'devices' | 'sequences' | 'policy' | 'purchase' | 'setting'>) => `${purchaseSuffix(o.purchase)}, ${o.variant}${o.devices > 1 ? ` on ${o.devices}` : ''}, ${waysWords(o)}${o.policy ? `, ${o.policy}` : ''}`

function words(p: FrontierPoint): string {
  const t = props.targets[p.tightest]
  const value = t ? `${t.className} ${measureWords(t.target)} ${valueWords(t.target, p.strain === null ? Infinity : p.value)}` : ''
  return `${fleetWords(p)}${optionWords(p)}: ${price(p.perHour * HOURS_PER_MONTH, props.currency)} a month, ${value}, ${!p.holds ? 'misses' : p.value === null && p.strain !== null ? 'not measured' : 'holds'}`
}

function grainWords(i: number): string {
  const option = props.rejected[props.dust.places[i]]
  return option ? `${option.machine}${optionWords(option)}: no less than ${price(props.dust.perHour[i] * HOURS_PER_MONTH, props.currency)} a month, and at its best ${bare(threeDigits(props.dust.strain[i]))} times the limit. Ruled out: ${option.reason}` : ''
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
  const [px, py] = [event.offsetX, event.offsetY]
  const over = drawn.value.findLast((p) => Math.hypot(x.value(p.perHour * HOURS_PER_MONTH) - px, y.value(strain(p)) - py) <= POINT_REACH)
  active.value = over ? sizedKey(over) : null
  grain.value = over ? null : nearestGrain(props.dust, (i) => ({ x: grainX(i), y: grainY(i) }), x.value.invert(px - GRAIN_REACH) / HOURS_PER_MONTH, { x: px, y: py }, GRAIN_REACH)
}
function leave(): void {
  active.value = grain.value = null
}
</script>

<template>
  <div ref="box">
    <div v-if="points.length + dust.places.length > 0" class="relative" :style="{ height: `${height}px` }">
      <canvas ref="canvas" class="pointer-events-none absolute left-0 top-0" :style="{ width: `${width}px`, height: `${height}px` }" aria-hidden="true" />
      <svg
        class="absolute left-0 top-0" :width="width" :height="height" tabindex="0" role="group" aria-label="Cost against the tightest promise; left and right walk the options that were run, up and down all others, by cost"
        @keydown.right.prevent="walk(1)" @keydown.left.prevent="walk(-1)" @keydown.up.prevent="walkGrains($event.ctrlKey ? 100 : 1)" @keydown.down.prevent="walkGrains($event.ctrlKey ? -100 : -1)" @pointermove="point" @pointerleave="leave"
      >
        <rect :x="LEFT" :y="TOP" :width="width - LEFT - RIGHT" :height="Math.max(0, y(1) - TOP)" fill="var(--rust)" opacity="0.06" />
        <g v-for="t in ticks" :key="t">
          <line :x1="x(t)" :x2="x(t)" :y1="TOP" :y2="height - BOTTOM + 4" stroke="var(--rule)" stroke-width="0.7" />
          <text :x="x(t)" :y="height - BOTTOM + 17" text-anchor="middle" class="chart-axis">{{ price(t, currency) }}</text>
        </g>
        <text :x="width - RIGHT" :y="height - 4" text-anchor="end" class="chart-axis">a month</text>
        <g v-for="t in [0.1, 0.2, 0.5, 1, 2, 3].filter((v) => v < y.domain()[1] && v > y.domain()[0])" :key="`y${t}`">
          <line :x1="LEFT" :x2="width - RIGHT" :y1="y(t)" :y2="y(t)" :stroke="t === 1 ? 'var(--rust)' : 'var(--rule)'" :stroke-dasharray="t === 1 ? '4 3' : undefined" />
          <text :x="LEFT - 6" :y="y(t) + 4" text-anchor="end" class="chart-axis">{{ t === 1 ? 'the limit' : t === NEVER ? `${t} × or more` : `${t} ×` }}</text>
        </g>
        <path :d="edge" fill="none" stroke="var(--sand)" stroke-width="2" />
        <g v-for="p in drawn" :key="sizedKey(p)" class="cursor-pointer">
          <circle v-if="p.holds" :cx="x(p.perHour * HOURS_PER_MONTH)" :cy="y(strain(p))" :r="sizedKey(p) === chosen ? 7 : 5" :fill="sizedKey(p) === chosen ? 'var(--sand)' : 'var(--water)'" stroke="var(--paper)" />
          <path v-else :d="`M${x(p.perHour * HOURS_PER_MONTH) - 4.5},${y(strain(p)) - 4.5}l9,9m0,-9l-9,9`" stroke="var(--rust)" stroke-width="1.800" />
          <circle v-if="grain === null && shown && sizedKey(p) === sizedKey(shown)" :cx="x(p.perHour * HOURS_PER_MONTH)" :cy="y(strain(p))" r="10" fill="none" stroke="var(--ink)" />
        </g>
        <circle v-if="grain !== null" :cx="grainX(grain)" :cy="grainY(grain)" r="6" fill="none" stroke="var(--ink)" stroke-width="1.500" />
        <text v-for="l in labels" :key="`${l.x} ${l.y}`" :x="l.x" :y="l.y" class="chart-label">{{ l.words }}</text>
      </svg>
    </div>
    <p class="min-h-[2.6em] text-[0.9rem]" aria-live="polite">
      <template v-if="grain !== null"><span class="text-faded">Under the cursor: </span>{{ grainWords(grain) }}.</template>
      <template v-else-if="shown"><span class="text-faded">Dots hold, crosses miss; the line joins the cheapest at each height. Grains are all that was ruled out, no cheaper and no better than where they lie. {{ active === null ? 'Chosen' : 'Under the cursor' }}: </span>{{ words(shown) }}.</template>
      <span v-else class="text-faded">Grains are all that was ruled out, no cheaper and no better than where they lie.</span>
    </p>
  </div>
</template>
