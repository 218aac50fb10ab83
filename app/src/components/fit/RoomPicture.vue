<script setup lang="ts">
import { bare, bytes, cacheTokensWith, grouped, percent, sequencesIn, threeDigits, type FitRow } from '@sandclock/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, ref, useTemplateRef, watch } from 'vue'
import { useWidth } from '../../composables/useWidth.ts'
import { vesselParts } from '../../composables/vesselParts.ts'

/**
 * How the memory of one replica is shared out, and how its cache is room for few long requests or many short ones. What
 * is pulled: the share given to the server, the reserve, the longest request, the requests side by side.
 */
const props = defineProps<{
  row: FitRow
  share: number
  reserveBytesPerDevice: number
  contextTokens: number
  mostContext: number
  sequences: number
  height: number
}>()
const emit = defineEmits<{ share: [share: number]; reserve: [bytes: number]; context: [tokens: number]; sequences: [count: number] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const TOP = 14
const BOTTOM = 30
const VESSEL = { left: 8, width: 92 }
const LEFT = 322
const RIGHT = 92
const MOST_SIDE_BY_SIDE = 1024
const LEAST_TOKENS = 128
const LEAST_SHARE = 0.3
const PERCENT_STEP = 0.01

type Pull = { what: 'share' | 'reserve' | 'point'; share: number; reserve: number; context: number; sequences: number }
const pull = ref<Pull | null>(null)
/** cache tokens before the last change: what the picture looked like, until the next one */
const ghost = ref<number | null>(null)

const memory = computed(() => props.row.memory)
const now = computed<Pull>(
  () =>
    pull.value ?? {
      what: 'point',
      share: props.share,
      reserve: props.reserveBytesPerDevice,
      context: props.contextTokens,
      sequences: props.sequences,
    },
)
const cacheTokens = computed(() =>
  memory.value ? cacheTokensWith(memory.value, props.row.devices, now.value.share, now.value.reserve) : 0,
)
const before = computed(() =>
  pull.value && memory.value ? cacheTokensWith(memory.value, props.row.devices, props.share, props.reserveBytesPerDevice) : ghost.value,
)
watch(
  () => props.row,
  (next, last) => {
    const same = last && next.machine === last.machine && next.variant === last.variant && next.devices === last.devices
    ghost.value =
      same && last.memory && last.memory.cacheTokens !== next.memory?.cacheTokens ? last.memory.cacheTokens : same ? ghost.value : null
  },
)

const bottom = computed(() => props.height - BOTTOM)
const level = computed(() => scaleLinear([0, memory.value?.totalBytes ?? 1], [bottom.value, TOP]))
/** Layers from the bottom, with the levels that they reach while something is pulled. */
const layers = computed(() => {
  const m = memory.value
  if (!m) return []
  const moved: FitRow = {
    ...props.row,
    memory: {
      ...m,
      withheldBytes: m.totalBytes * (1 - now.value.share),
      reserveBytes: props.row.devices * now.value.reserve,
      cacheBytes: cacheTokens.value * m.cacheBytesPerToken,
    },
  }
  let from = 0
  return vesselParts(moved).map((p) => {
    const y = level.value(Math.min(m.totalBytes, from + p.bytes))
    const out = { ...p, y, height: Math.max(0, level.value(from) - y) }
    from += p.bytes
    return out
  })
})
const shareLevel = computed(() => level.value((memory.value?.totalBytes ?? 0) * now.value.share))
const reserveLevel = computed(() =>
  level.value((memory.value?.weightBytes ?? 0) + (memory.value?.activationBytes ?? 0) + props.row.devices * now.value.reserve),
)

const x = computed(() => scaleLog([1, MOST_SIDE_BY_SIDE], [LEFT, Math.max(LEFT + 60, width.value - RIGHT)]).clamp(true))
const y = computed(() => scaleLog([LEAST_TOKENS, Math.max(props.mostContext, LEAST_TOKENS * 2)], [bottom.value, TOP + 4]).clamp(true))
/** The edge of the room: so many tokens each for so many requests. On these axes a straight line. */
function edge(tokens: number): string {
  const points = Array.from({ length: 41 }, (_, i) => MOST_SIDE_BY_SIDE ** (i / 40)).map((n) => [
    x.value(n),
    y.value(Math.max(LEAST_TOKENS, tokens / n)),
  ])
  return points.map(([px, py], i) => `${i === 0 ? 'M' : 'L'}${px.toFixed(1)},${py.toFixed(1)}`).join('')
}
const room = computed(() => `${edge(cacheTokens.value)}L${x.value(MOST_SIDE_BY_SIDE)},${bottom.value}L${LEFT},${bottom.value}Z`)
const atLongest = computed(() => sequencesIn(cacheTokens.value, now.value.context))
const mean = computed(() => (props.row.speed?.kind === 'token' ? props.row.speed.meanTokens : null))
const atMean = computed(() => (mean.value === null ? 0 : sequencesIn(cacheTokens.value, mean.value)))
const enough = computed(() => atLongest.value >= now.value.sequences)
const whole = (n: number) => grouped(n, 0)
const SIDE_TICKS = [1, 4, 16, 64, 256, 1024]
const tokenTicks = computed(() => [256, 1024, 4096, 16384, 65536, 262144].filter((t) => t <= props.mostContext))

function take(what: Pull['what'], event: PointerEvent): void {
  pull.value = { ...now.value, what }
  ;(event.target as Element).closest('svg')?.setPointerCapture(event.pointerId)
}

const held = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value))

function move(event: PointerEvent): void {
  const p = pull.value
  const m = memory.value
  if (!p || !m) return
  const rect = (event.currentTarget as SVGElement).getBoundingClientRect()
  const size = level.value.invert(event.clientY - rect.top)
  if (p.what === 'share') pull.value = { ...p, share: Math.round(held(size / m.totalBytes, LEAST_SHARE, 1) / PERCENT_STEP) * PERCENT_STEP }
  else if (p.what === 'reserve')
    pull.value = {
      ...p,
      reserve: Math.round(held(size - m.weightBytes - m.activationBytes, 0, m.totalBytes / 2) / props.row.devices / 1e8) * 1e8,
    }
  else
    pull.value = {
      ...p,
      sequences: Math.round(x.value.invert(event.clientX - rect.left)),
      context: round(y.value.invert(event.clientY - rect.top)),
    }
}

const round = (tokens: number) => Math.min(props.mostContext, Math.max(LEAST_TOKENS, Math.round(tokens / LEAST_TOKENS) * LEAST_TOKENS))

function letGo(): void {
  const p = pull.value
  pull.value = null
  if (!p) return
  if (p.what === 'share' && p.share !== props.share) emit('share', Number(p.share.toFixed(2)))
  if (p.what === 'reserve' && p.reserve !== props.reserveBytesPerDevice) emit('reserve', p.reserve)
  if (p.what !== 'point') return
  if (p.context !== props.contextTokens) emit('context', p.context)
  if (p.sequences !== props.sequences) emit('sequences', p.sequences)
}

const RESERVE_STEP = 1e8
const keys = {
  share: (direction: number) => emit('share', Number(held(props.share + direction * PERCENT_STEP, LEAST_SHARE, 1).toFixed(2))),
  reserve: (direction: number) => emit('reserve', Math.max(0, props.reserveBytesPerDevice + direction * RESERVE_STEP)),
  context: (direction: number) => emit('context', round(props.contextTokens * (direction > 0 ? 1.25 : 0.8))),
  sequences: (direction: number) =>
    emit(
      'sequences',
      held(Math.round(props.sequences * (direction > 0 ? 1.25 : 0.8)) + (props.sequences < 5 ? direction : 0), 1, MOST_SIDE_BY_SIDE),
    ),
}
</script>

<template>
  <div ref="box">
    <svg
      v-if="memory"
      :width="width"
      :height="height"
      class="block touch-none select-none"
      role="group"
      :aria-label="`Memory and room of ${row.machine}, ${row.variant}`"
      @pointermove="move"
      @pointerup="letGo"
      @pointercancel="pull = null">
      <defs>
        <pattern id="fill-reserve" width="4" height="4" patternUnits="userSpaceOnUse">
          <rect width="4" height="4" fill="var(--leaf)" />
          <line x1="0" x2="0" y1="0" y2="4" stroke="var(--faded)" stroke-width="1.600" />
        </pattern>
        <pattern id="fill-spare" width="5" height="5" patternUnits="userSpaceOnUse">
          <rect width="5" height="5" fill="var(--leaf)" />
          <circle cx="2.500" cy="2.500" r="1" fill="var(--sand)" />
        </pattern>
        <pattern id="fill-withheld" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill="var(--leaf)" />
          <line x1="0" x2="0" y1="0" y2="6" stroke="var(--rule)" stroke-width="3" />
        </pattern>
      </defs>
      <g v-for="p in layers" :key="p.name">
        <rect
          :x="VESSEL.left"
          :y="p.y"
          :width="VESSEL.width"
          :height="p.height"
          :fill="p.fill === 'weights' ? 'var(--water)' : p.fill === 'cache' ? 'var(--sand)' : `url(#fill-${p.fill})`" />
        <text v-if="p.height > 11" :x="VESSEL.left + VESSEL.width + 22" :y="p.y + p.height / 2 + 4" class="chart-axis">
          {{ p.name }} {{ bytes(p.bytes) }}
        </text>
      </g>
      <path
        :d="`M${VESSEL.left},${TOP - 6}V${bottom}H${VESSEL.left + VESSEL.width}V${TOP - 6}`"
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.600" />
      <g
        v-for="[what, at, words] in [
          ['share', shareLevel, `${bare(percent(now.share))} given to the server`],
          ['reserve', reserveLevel, `${bytes(now.reserve)} kept back a device`],
        ] as const"
        :key="what">
        <line :x1="VESSEL.left - 4" :x2="VESSEL.left + VESSEL.width + 12" :y1="at" :y2="at" stroke="var(--ink)" stroke-width="1.400" />
        <circle
          :cx="VESSEL.left + VESSEL.width + 12"
          :cy="at"
          r="6"
          fill="var(--leaf)"
          stroke="var(--sand)"
          stroke-width="2.500"
          class="cursor-ns-resize"
          tabindex="0"
          role="slider"
          aria-orientation="vertical"
          :aria-label="what === 'share' ? 'Share of the memory given to the server' : 'Reserve of a device'"
          :aria-valuenow="what === 'share' ? Math.round(now.share * 100) : now.reserve"
          :aria-valuetext="words"
          @pointerdown.prevent="take(what, $event)"
          @keydown.up.prevent="keys[what](1)"
          @keydown.down.prevent="keys[what](-1)">
          <title>{{ words }}. Pull, or use the arrow keys.</title>
        </circle>
      </g>

      <g v-for="t in tokenTicks" :key="`t${t}`">
        <line :x1="LEFT" :x2="x(MOST_SIDE_BY_SIDE)" :y1="y(t)" :y2="y(t)" stroke="var(--rule)" stroke-width="0.700" />
        <text :x="LEFT - 6" :y="y(t) + 4" text-anchor="end" class="chart-axis">{{ threeDigits(t) }}</text>
      </g>
      <g v-for="n in SIDE_TICKS" :key="`n${n}`">
        <line :x1="x(n)" :x2="x(n)" :y1="TOP" :y2="bottom + 4" stroke="var(--rule)" stroke-width="0.700" />
        <text :x="x(n)" :y="bottom + 15" text-anchor="middle" class="chart-axis">{{ n }}</text>
      </g>
      <text :x="LEFT - 6" :y="TOP - 3" text-anchor="end" class="chart-axis">tokens each</text>
      <text :x="x(MOST_SIDE_BY_SIDE)" :y="bottom + 27" text-anchor="end" class="chart-axis">requests side by side</text>
      <path :d="room" fill="url(#fill-spare)" opacity="0.75" />
      <path v-if="before !== null && before !== cacheTokens" :d="edge(before)" fill="none" stroke="var(--faded)" stroke-dasharray="3 3" />
      <path :d="edge(cacheTokens)" fill="none" stroke="var(--sand)" stroke-width="2" />
      <g v-if="mean !== null && atMean > 0">
        <line :x1="LEFT" :x2="x(atMean)" :y1="y(mean)" :y2="y(mean)" stroke="var(--water)" stroke-dasharray="5 3" />
        <text :x="x(atMean) + 6" :y="y(mean) + 4" class="chart-label">
          {{ whole(atMean) }} of the plan’s mean {{ `${threeDigits(mean)} tokens` }}
        </text>
      </g>
      <line :x1="LEFT" :x2="x(now.sequences)" :y1="y(now.context)" :y2="y(now.context)" stroke="var(--ink)" stroke-width="0.800" />
      <line :x1="x(now.sequences)" :x2="x(now.sequences)" :y1="y(now.context)" :y2="bottom" stroke="var(--ink)" stroke-width="0.800" />
      <circle
        :cx="x(now.sequences)"
        :cy="y(now.context)"
        r="8"
        fill="var(--leaf)"
        :stroke="enough ? 'var(--moss)' : 'var(--rust)'"
        stroke-width="3"
        class="cursor-move"
        @pointerdown.prevent="take('point', $event)">
        <title>Longest request and requests side by side. Pull.</title>
      </circle>
      <circle
        v-for="[what, cx, cy, value, words] in [
          ['context', LEFT, y(now.context), now.context, `requests of up to ${threeDigits(now.context)} tokens`],
          ['sequences', x(now.sequences), bottom, now.sequences, `${now.sequences} side by side`],
        ] as const"
        :key="what"
        :cx="cx"
        :cy="cy"
        r="5"
        fill="var(--leaf)"
        stroke="var(--ink)"
        stroke-width="1.600"
        tabindex="0"
        role="slider"
        :aria-orientation="what === 'context' ? 'vertical' : 'horizontal'"
        :aria-label="what === 'context' ? 'Longest request, tokens' : 'Requests side by side'"
        :aria-valuenow="value"
        :aria-valuetext="words"
        @keydown.up.prevent="keys[what](1)"
        @keydown.down.prevent="keys[what](-1)"
        @keydown.right.prevent="keys[what](1)"
        @keydown.left.prevent="keys[what](-1)">
        <title>{{ words }}</title>
      </circle>
    </svg>
    <p class="mt-1 text-[0.84rem]">
      <template v-if="cacheTokens === 0">The weights leave no room for a cache.</template>
      <template v-else>
        Room for {{ threeDigits(cacheTokens) }} tokens:
        <strong :class="enough ? 'text-moss' : 'text-rust'"
          >{{ atLongest === 1 ? 'one request' : `${whole(atLongest)} requests` }} of the longest kind</strong
        >
        ({{ threeDigits(now.context) }} tokens) against the {{ now.sequences }} that may come side by side{{
          enough ? '' : '; beyond that they wait, or their cache is taken'
        }}.
        <span class="text-faded">Pull the rings: what one side gains the other loses.</span>
      </template>
    </p>
  </div>
</template>
