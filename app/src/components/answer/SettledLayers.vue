<script setup lang="ts">
import { firstNotBelow, HOURS_PER_MONTH, price, purchaseSuffix, waysWords, type RejectedOption, type SettledLayer } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed, ref, useTemplateRef, watch } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across } from '../../charts/plot.ts'
import { pixelAxis, type Axis, type Mark, type PointSeries } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'
import { RULE_WORDS } from './rules.ts'

/**
 * Every option that was ruled out, a grain each, in layers by the rule that did it and by the least that it costs; the line
 * is the chosen one. Arrow keys walk the grains of a layer and from layer to layer.
 */
const props = defineProps<{
  layers: readonly SettledLayer[]
  rejected: readonly RejectedOption[]
  chosenPerHour: number | null
  currency: string
}>()

const PLOT = { left: 250, right: 8, bottom: 20 }
const LAYER = 22
const GRAIN = 2.5
const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const height = computed(() => props.layers.length * LAYER + PLOT.bottom)

const known = computed(() =>
  props.layers.flatMap((l) => [l.perHour[0], l.perHour[l.perHour.length - 1]]).filter((v) => v > 0 && Number.isFinite(v)),
)
const x = computed(() =>
  scaleLog(
    [Math.min(props.chosenPerHour || Infinity, ...known.value) / 1.1, Math.max(props.chosenPerHour ?? 0, ...known.value) * 1.1],
    across(PLOT, width.value),
  ).clamp(true),
)
/** Prices are told by the month. */
const xAxis = computed((): Axis => ({
  scale: x.value,
  log: true,
  rules: false,
  ticks: x.value
    .copy()
    .domain(x.value.domain().map((v) => v * HOURS_PER_MONTH))
    .ticks(5)
    .filter((t) => /^[125]/.test(String(t)))
    .map((t) => ({ at: t / HOURS_PER_MONTH, label: price(t, props.currency) })),
}))
const yAxis = computed(() => pixelAxis(height.value - PLOT.bottom))
const marks = computed((): Mark[] =>
  props.chosenPerHour ? [{ kind: 'line', x: props.chosenPerHour, colour: '--sand', width: 1.5, dash: [4, 2] }] : [],
)
/** Grains of one cost lie beside each other: where is drawn from their number, the same each time. */
const scatter = (i: number) => ((i * 0.6180339887) % 1) * (LAYER - 7) + 2

const series = computed(() =>
  props.layers.map((layer, l): PointSeries => ({
    kind: 'points',
    shape: 'grain',
    radius: GRAIN / 2,
    alpha: layer.places.length > 400 ? 0.45 : 0.8,
    colour: 'missed' in (props.rejected[layer.places[0]]?.rejection ?? {}) ? '--sand' : '--faded',
    points: Array.from(layer.perHour, (v, i) => ({ x: v, y: l * LAYER + scatter(layer.places[i]) + GRAIN / 2 })),
  })),
)

const active = ref<{ layer: number; grain: number } | null>(null)
watch(
  () => props.layers,
  () => (active.value = null),
)
const shown = computed(() => {
  const layer = active.value && props.layers[active.value.layer]
  const option = layer && active.value && props.rejected[layer.places[active.value.grain]]
  if (!layer || !option || !active.value) return null
  return {
    option,
    perHour: layer.perHour[active.value.grain],
    x: x.value(layer.perHour[active.value.grain]),
    y: active.value.layer * LAYER + scatter(layer.places[active.value.grain]) + GRAIN / 2,
  }
})

/** The grain of a layer that is nearest to a cost. */
function nearest({ perHour }: SettledLayer, cost: number): number {
  const next = Math.min(perHour.length - 1, firstNotBelow(perHour, cost))
  return next > 0 && cost - perHour[next - 1] < perHour[next] - cost ? next - 1 : next
}
function point(event: PointerEvent): void {
  const here = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const [px, layer] = [event.clientX - here.left, Math.floor((event.clientY - here.top) / LAYER)]
  if (layer >= 0 && layer < props.layers.length && px >= PLOT.left - 8)
    active.value = { layer, grain: nearest(props.layers[layer], x.value.invert(px)) }
}
function walk(grains: number, layers: number): void {
  const now = active.value ?? { layer: 0, grain: -1 }
  const layer = Math.min(props.layers.length - 1, Math.max(0, now.layer + layers))
  const cost = props.layers[now.layer].perHour[Math.max(0, now.grain)]
  const grain =
    layers === 0 ? Math.min(props.layers[layer].places.length - 1, Math.max(0, now.grain + grains)) : nearest(props.layers[layer], cost)
  active.value = { layer, grain }
}
</script>

<template>
  <div ref="box">
    <ChartPicture
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :marks="marks"
      :width="width"
      :height="height"
      tabindex="0"
      role="group"
      aria-label="Options that were ruled out, in layers by rule; arrow keys walk them"
      @pointermove="point"
      @keydown.right.prevent="walk($event.ctrlKey ? 100 : 1, 0)"
      @keydown.left.prevent="walk($event.ctrlKey ? -100 : -1, 0)"
      @keydown.down.prevent="walk(0, 1)"
      @keydown.up.prevent="walk(0, -1)">
      <p
        v-for="(l, i) in layers"
        :key="l.rule"
        class="chart-word w-full border-b border-rule text-ink"
        :style="{ left: 0, top: `${i * LAYER + 2}px`, height: `${LAYER - 2}px` }">
        <b>{{ l.places.length }}</b> {{ RULE_WORDS[l.rule] }}
      </p>
      <span v-if="shown" class="spoken-of" :style="{ left: `${shown.x}px`, top: `${shown.y}px`, width: '13px', height: '13px' }" />
    </ChartPicture>
    <p class="min-h-[2.6em] text-[0.9rem]" aria-live="polite">
      <template v-if="shown"
        ><strong class="font-semibold"
          >{{ shown.option.machine }}{{ purchaseSuffix(shown.option.purchase) }}, {{ shown.option.variant
          }}{{ shown.option.devices > 1 ? ` on ${shown.option.devices}` : '' }}, {{ waysWords(shown.option)
          }}{{ shown.option.policy ? `, ${shown.option.policy}` : '' }}</strong
        >: {{ shown.option.reason }}.</template
      >
      <span v-else class="text-faded"
        >A grain is an option, at the least that it costs a month; the broken line is the chosen one. Point at one, or walk with the arrow
        keys.</span
      >
    </p>
  </div>
</template>
