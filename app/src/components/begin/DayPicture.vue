<script setup lang="ts">
import { rateAt, rateCurve, type GeneratedArrivals } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { bareAxis, type Series } from '../../charts/spec.ts'

/** How a day goes: its rate by the hour, of a Thursday, as a silhouette. */
const props = defineProps<{ arrivals: GeneratedArrivals }>()

const WIDTH = 300
const HEIGHT = 26
const THURSDAY = '2027-03-04T00:00:00Z'
const DAY_SECONDS = 86_400
const PIECES = 96

const points = computed(() => {
  const curve = rateCurve(props.arrivals, DAY_SECONDS, 1, THURSDAY)
  return Array.from({ length: PIECES + 1 }, (_, i) => ({ x: i, y: rateAt(curve, Math.min(DAY_SECONDS - 1, (i * DAY_SECONDS) / PIECES)) }))
})
const x = bareAxis(scaleLinear([0, PIECES], [0, WIDTH]))
const y = computed(() => bareAxis(scaleLinear([0, Math.max(1e-9, ...points.value.map((p) => p.y))], [HEIGHT - 1, 3])))
const series = computed((): Series[] => [
  {
    kind: 'line',
    points: points.value,
    colour: '--water',
    width: 1.2,
    stepped: true,
    fill: { to: 'axis', ink: { colour: '--water', alpha: 0.25 } },
  },
])
</script>

<template>
  <ChartPicture :x="x" :y="y" :series="series" :width="WIDTH" :height="HEIGHT" aria-hidden="true" />
</template>
