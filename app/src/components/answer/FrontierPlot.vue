<script setup lang="ts">
import { fleetWords, measureWords, price, purchaseSuffix, valueWords, HOURS_PER_MONTH, type FrontierPoint, type Target } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed, ref, useTemplateRef } from 'vue'
import { useWidth } from '../../composables/useWidth.ts'

/**
 * Cost against the tightest promise: below the line an option holds, above it misses. The step line joins the cheapest
 * that reach each height. Arrow keys walk the points by cost.
 */
const props = defineProps<{ points: readonly FrontierPoint[]; targets: readonly { className: string; target: Target }[]; currency: string; chosen: string; height: number }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const LEFT = 84
const RIGHT = 20
const TOP = 14
const BOTTOM = 36
const NEVER = 3

const strain = (p: FrontierPoint) => Math.min(NEVER, Math.max(0.05, p.strain ?? NEVER))
const sorted = computed(() => [...props.points].sort((a, b) => a.perHour - b.perHour))
/** The chosen one lies on top of those that cost and strain the same. */
const drawn = computed(() => [...sorted.value.filter((p) => nameOf(p) !== props.chosen), ...sorted.value.filter((p) => nameOf(p) === props.chosen)])
const costs = computed(() => sorted.value.map((p) => p.perHour * HOURS_PER_MONTH))
const x = computed(() => scaleLog([Math.min(...costs.value) / 1.12, Math.max(...costs.value) * 1.25], [LEFT, width.value - RIGHT]))
const y = computed(() => scaleLog([Math.min(0.5, ...props.points.map(strain)) / 1.15, Math.min(NEVER, Math.max(1.3, ...props.points.map(strain))) * 1.08], [props.height - BOTTOM, TOP]))
const ticks = computed(() => x.value.ticks(6).filter((t) => /^[125]/.test(String(t))))
const nameOf = (p: FrontierPoint) => `${p.machine} ${p.variant} ${p.devices} ${p.sequences} ${p.machines} ${p.policy ?? ''} ${p.purchase}`
const inside = (at: number, from: number, until: number) => at >= from && at <= until

/** Names of options that hold, where there is room: the chosen one first, then by cost. */
const labels = computed(() => {
  const placed: { x: number; y: number; width: number; words: string }[] = []
  const inOrder = [...sorted.value.filter((p) => nameOf(p) === props.chosen), ...sorted.value.filter((p) => p.holds && nameOf(p) !== props.chosen)]
  for (const p of inOrder) {
    const words = fleetWords(p)
    const label = { x: x.value(p.perHour * HOURS_PER_MONTH) + 10, y: y.value(strain(p)) - 8, width: words.length * 6.3, words }
    const overPoint = sorted.value.some((q) => q !== p && Math.abs(y.value(strain(q)) - label.y + 4) < 9 && inside(x.value(q.perHour * HOURS_PER_MONTH), label.x - 6, label.x + label.width + 6))
    const clear = !overPoint && label.x + label.width < width.value && placed.every((o) => Math.abs(o.y - label.y) > 13 || label.x > o.x + o.width + 6 || o.x > label.x + label.width + 6)
    if (clear && placed.length < 7 && placed.every((o) => o.words !== words)) placed.push(label)
  }
  return placed
})
const active = ref<string | null>(null)
const shown = computed(() => props.points.find((p) => nameOf(p) === (active.value ?? props.chosen)) ?? sorted.value[0])

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

function words(p: FrontierPoint): string {
  const t = props.targets[p.tightest]
  const value = t ? `${t.className} ${measureWords(t.target)} ${valueWords(t.target, p.strain === null ? Infinity : p.value)}` : ''
  return `${fleetWords(p)}${purchaseSuffix(p.purchase)}, ${p.variant}${p.devices > 1 ? ` on ${p.devices}` : ''}, ${p.sequences} side by side${p.policy ? `, ${p.policy}` : ''}: ${price(p.perHour * HOURS_PER_MONTH, props.currency)} a month, ${value}, ${p.holds ? 'holds' : 'misses'}`
}

function walk(direction: 1 | -1): void {
  const now = sorted.value.findIndex((p) => nameOf(p) === (active.value ?? props.chosen))
  const next = sorted.value[Math.min(sorted.value.length - 1, Math.max(0, now + direction))]
  if (next) active.value = nameOf(next)
}
</script>

<template>
  <div ref="box">
    <svg
      v-if="points.length > 0" :width="width" :height="height" tabindex="0" role="group" aria-label="Cost against the tightest promise; arrow keys walk the options by cost"
      @keydown.right.prevent="walk(1)" @keydown.left.prevent="walk(-1)" @pointerleave="active = null"
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
      <g v-for="p in drawn" :key="nameOf(p)" class="cursor-pointer" @pointerenter="active = nameOf(p)">
        <circle :cx="x(p.perHour * HOURS_PER_MONTH)" :cy="y(strain(p))" r="11" fill="transparent" />
        <circle v-if="p.holds" :cx="x(p.perHour * HOURS_PER_MONTH)" :cy="y(strain(p))" :r="nameOf(p) === chosen ? 7 : 5" :fill="nameOf(p) === chosen ? 'var(--sand)' : 'var(--water)'" stroke="var(--paper)" />
        <path v-else :d="`M${x(p.perHour * HOURS_PER_MONTH) - 4.5},${y(strain(p)) - 4.5}l9,9m0,-9l-9,9`" stroke="var(--rust)" stroke-width="1.800" />
        <circle v-if="shown && nameOf(p) === nameOf(shown)" :cx="x(p.perHour * HOURS_PER_MONTH)" :cy="y(strain(p))" r="10" fill="none" stroke="var(--ink)" />
      </g>
      <text v-for="l in labels" :key="`${l.x} ${l.y}`" :x="l.x" :y="l.y" class="chart-label">{{ l.words }}</text>
    </svg>
    <p v-if="shown" class="min-h-[2.6em] text-[0.9rem]" aria-live="polite"><span class="text-faded">Dots hold, crosses miss; the line joins the cheapest at each height. {{ active === null ? 'Chosen' : 'Under the cursor' }}: </span>{{ words(shown) }}.</p>
  </div>
</template>
