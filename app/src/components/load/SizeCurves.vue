<script setup lang="ts">
import { threeDigits, type ClassPicture, type SizeHistogram } from '@sandclock/core'
import { scaleLog } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import { classColour } from '../../composables/classColour.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** How long requests are: prompts above each line, answers below it, on one logarithmic axis. */
const props = defineProps<{ classes: readonly ClassPicture[] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const LEFT = 190
const RIGHT = 16
const ROW = 66
const HALF = 25
const height = computed(() => props.classes.length * ROW + 26)
const largest = computed(() => Math.max(100, ...props.classes.flatMap((c) => [c.input.edges.at(-1) ?? 0, c.output?.edges.at(-1) ?? 0])))
const x = computed(() => scaleLog([1, largest.value], [LEFT, width.value - RIGHT]))
const ticks = computed(() => Array.from({ length: Math.floor(Math.log10(largest.value)) + 1 }, (_, i) => 10 ** i))

function path(h: SizeHistogram, base: number, direction: 1 | -1): string {
  if (h.shares.length === 0) return ''
  const top = Math.max(...h.shares)
  const corners = h.shares.map((s, i) => {
    const y = (base - direction * (s / top) * HALF).toFixed(1)
    return `L${x.value(h.edges[i]).toFixed(1)},${y}L${x.value(h.edges[i + 1]).toFixed(1)},${y}`
  })
  return `M${x.value(h.edges[0]).toFixed(1)},${base}${corners.join('')}L${x.value(h.edges[h.edges.length - 1]).toFixed(1)},${base}Z`
}
const words = (what: string, h: SizeHistogram, unit: string) => (h.median === null ? `${what}: no data` : `${what} ${threeDigits(h.median)} ${unit}, p95 ${threeDigits(h.p95)}`)
</script>

<template>
  <div ref="box">
    <svg :width="width" :height="height" role="img" aria-label="Sizes of requests by class, on a logarithmic axis">
      <g v-for="t in ticks" :key="t">
        <line :x1="x(t)" :x2="x(t)" y1="4" :y2="height - 20" stroke="var(--rule)" stroke-width="0.7" />
        <text :x="x(t)" :y="height - 6" text-anchor="middle" class="chart-axis">{{ t.toLocaleString('en').replaceAll(',', '\u202f') }}</text>
      </g>
      <g v-for="(c, i) in classes" :key="c.name" :transform="`translate(0 ${i * ROW + ROW / 2})`">
        <path :d="path(c.input, 0, 1)" :fill="classColour(i)" fill-opacity="0.55" />
        <path v-if="c.output" :d="path(c.output, 0, -1)" :fill="classColour(i)" fill-opacity="0.22" :stroke="classColour(i)" stroke-width="0.8" />
        <line :x1="LEFT" :x2="width - RIGHT" y1="0" y2="0" stroke="var(--faded)" stroke-width="0.7" />
        <text x="0" y="-10" class="chart-name" :fill="classColour(i)">{{ c.name }}</text>
        <text x="0" y="5" class="chart-axis">{{ c.output ? words('prompt', c.input, 'tokens') : words('work', c.input, 'units') }}</text>
        <text v-if="c.output" x="0" y="20" class="chart-axis">{{ words('answer', c.output, 'tokens') }}</text>
      </g>
    </svg>
  </div>
</template>
