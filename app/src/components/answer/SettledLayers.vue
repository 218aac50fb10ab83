<script setup lang="ts">
import { firstNotBelow, HOURS_PER_MONTH, price, purchaseSuffix, waysWords, type RejectedOption, type SettledLayer } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { token } from '../../composables/classColour.ts'
import { sharpPen } from '../../composables/sharpPen.ts'
import { useWidth } from '../../composables/useWidth.ts'
import { RULE_WORDS } from './rules.ts'

/**
 * Every option that was ruled out, a grain each, in layers by the rule that did it and by the least that it costs; the line
 * is the chosen one. Arrow keys walk the grains of a layer and from layer to layer.
 */
const props = defineProps<{ layers: readonly SettledLayer[]; rejected: readonly RejectedOption[]; chosenPerHour: number | null; currency: string; theme: string }>()

const LEFT = 250
const LAYER = 22
const BOTTOM = 20
const GRAIN = 2.5
const box = useTemplateRef<HTMLElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const width = useWidth(box)
const height = computed(() => props.layers.length * LAYER + BOTTOM)

const known = computed(() => props.layers.flatMap((l) => [l.perHour[0], l.perHour[l.perHour.length - 1]]).filter((v) => v > 0 && Number.isFinite(v)))
const x = computed(() => scaleLog([Math.min(props.chosenPerHour || Infinity, ...known.value) / 1.1, Math.max(props.chosenPerHour ?? 0, ...known.value) * 1.1], [LEFT, width.value - 8]).clamp(true))
const ticks = computed(() => x.value.copy().domain(x.value.domain().map((v) => v * HOURS_PER_MONTH)).ticks(5).filter((t) => /^[125]/.test(String(t))))
/** Grains of one cost lie beside each other: where is drawn from their number, the same each time. */
const scatter = (i: number) => ((i * 0.6180339887) % 1) * (LAYER - 7) + 2

function draw(): void {
  const pen = sharpPen(canvas.value, width.value, height.value)
  if (!pen) return
  const colours = [token('--faded'), token('--sand')]
  props.layers.forEach((layer, l) => {
    pen.fillStyle = 'missed' in (props.rejected[layer.places[0]]?.rejection ?? {}) ? colours[1] : colours[0]
    pen.globalAlpha = layer.places.length > 400 ? 0.45 : 0.8
    layer.perHour.forEach((v, i) => pen.fillRect(x.value(v) - GRAIN / 2, l * LAYER + scatter(layer.places[i]), GRAIN, GRAIN))
  })
  pen.globalAlpha = 1
}
onMounted(draw)
watch([() => props.layers, width, () => props.theme], () => requestAnimationFrame(draw))

const active = ref<{ layer: number; grain: number } | null>(null)
watch(() => props.layers, () => (active.value = null))
const shown = computed(() => {
  const layer = active.value && props.layers[active.value.layer]
  const option = layer && active.value && props.rejected[layer.places[active.value.grain]]
  if (!layer || !option || !active.value) return null
  return { option, perHour: layer.perHour[active.value.grain], x: x.value(layer.perHour[active.value.grain]), y: active.value.layer * LAYER + scatter(layer.places[active.value.grain]) + GRAIN / 2 }
})

/** The grain of a layer that is nearest to a cost. */
function nearest({ perHour }: SettledLayer, cost: number): number {
  const next = Math.min(perHour.length - 1, firstNotBelow(perHour, cost))
  return next > 0 && cost - perHour[next - 1] < perHour[next] - cost ? next - 1 : next
}
function point(event: PointerEvent): void {
  const layer = Math.floor(event.offsetY / LAYER)
  if (layer >= 0 && layer < props.layers.length && event.offsetX >= LEFT - 8) active.value = { layer, grain: nearest(props.layers[layer], x.value.invert(event.offsetX)) }
}
function walk(grains: number, layers: number): void {
  const now = active.value ?? { layer: 0, grain: -1 }
  const layer = Math.min(props.layers.length - 1, Math.max(0, now.layer + layers))
  const cost = props.layers[now.layer].perHour[Math.max(0, now.grain)]
  const grain = layers === 0 ? Math.min(props.layers[layer].places.length - 1, Math.max(0, now.grain + grains)) : nearest(props.layers[layer], cost)
  active.value = { layer, grain }
}
</script>

<template>
  <div ref="box">
    <div
      class="relative" tabindex="0" role="group" aria-label="Options that were ruled out, in layers by rule; arrow keys walk them" :style="{ height: `${height}px` }"
      @pointermove="point" @keydown.right.prevent="walk($event.ctrlKey ? 100 : 1, 0)" @keydown.left.prevent="walk($event.ctrlKey ? -100 : -1, 0)" @keydown.down.prevent="walk(0, 1)" @keydown.up.prevent="walk(0, -1)"
    >
      <canvas ref="canvas" class="pointer-events-none absolute left-0 top-0" :style="{ width: `${width}px`, height: `${height}px` }" aria-hidden="true" />
      <svg :width="width" :height="height" class="pointer-events-none absolute left-0 top-0" aria-hidden="true">
        <g v-for="(l, i) in layers" :key="l.rule"><line :x1="0" :x2="width" :y1="(i + 1) * LAYER - 1" :y2="(i + 1) * LAYER - 1" stroke="var(--rule)" stroke-width="0.6" /><text x="0" :y="i * LAYER + 15" class="chart-axis" style="fill: var(--ink)"><tspan font-weight="600">{{ l.places.length }}</tspan> {{ RULE_WORDS[l.rule] }}</text></g>
        <text v-for="t in ticks" :key="t" :x="x(t / HOURS_PER_MONTH)" :y="height - 6" text-anchor="middle" class="chart-axis">{{ price(t, currency) }}</text>
        <line v-if="chosenPerHour" :x1="x(chosenPerHour)" :x2="x(chosenPerHour)" y1="0" :y2="layers.length * LAYER" stroke="var(--sand)" stroke-width="1.500" stroke-dasharray="4 2" />
        <circle v-if="shown" :cx="shown.x" :cy="shown.y" r="6" fill="none" stroke="var(--ink)" stroke-width="1.500" />
      </svg>
    </div>
    <p class="min-h-[2.6em] text-[0.9rem]" aria-live="polite">
      <template v-if="shown"><strong class="font-semibold">{{ shown.option.machine }}{{ purchaseSuffix(shown.option.purchase) }}, {{ shown.option.variant }}{{ shown.option.devices > 1 ? ` on ${shown.option.devices}` : '' }}, {{ waysWords(shown.option) }}{{ shown.option.policy ? `, ${shown.option.policy}` : '' }}</strong>: {{ shown.option.reason }}.</template>
      <span v-else class="text-faded">A grain is an option, at the least that it costs a month; the broken line is the chosen one. Point at one, or walk with the arrow keys.</span>
    </p>
  </div>
</template>
