<script setup lang="ts">
import { clock, threeDigits, withRate, type ClassPicture, type Plan } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref, useTemplateRef } from 'vue'
import { classColour, classDash } from '../../composables/classColour.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import { useWidth } from '../../composables/useWidth.ts'

/** Arrivals per second of every class over the horizon, as drawn. The knob at a class's height is pulled to change it. */
const props = defineProps<{ plan: Plan; classes: readonly ClassPicture[]; cursorSeconds: number; height: number }>()
const emit = defineEmits<{ 'update:cursorSeconds': [seconds: number]; scale: [className: string, factor: number] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const LEFT = 44
const RIGHT = 118
const TOP = 16
const BOTTOM = 26
const NUDGE = 1.05

const pull = ref<{ index: number; factor: number } | null>(null)
const top = computed(() => Math.max(0.01, ...props.classes.map((c) => c.peakPerSecond)) * 1.12)
const x = computed(() => scaleLinear([0, props.plan.horizon.seconds], [LEFT, width.value - RIGHT]))
const y = computed(() => scaleLinear([0, top.value], [props.height - BOTTOM, TOP]))
const ticks = computed(() => timeTicks(props.plan.horizon.start, 0, props.plan.horizon.seconds))
const canPull = (index: number) => withRate(props.plan.classes[index].arrivals) !== undefined && props.classes[index].count > 0

function path(c: ClassPicture, factor = 1): string {
  const step = props.plan.horizon.seconds / c.rates.length
  let d = `M${x.value(0)},${y.value(0)}`
  c.rates.forEach((r, i) => (d += `L${x.value((i + 0.5) * step).toFixed(1)},${y.value(r * factor).toFixed(1)}`))
  return `${d}L${x.value(props.plan.horizon.seconds)},${y.value(0)}`
}
const paths = computed(() => props.classes.map((c, i) => path(c, pull.value?.index === i ? pull.value.factor : 1)))
const ghost = computed(() => (pull.value ? path(props.classes[pull.value.index]) : ''))
const knobs = computed(() => props.classes.map((c, i) => ({ x: x.value(c.peakAtSeconds + props.plan.horizon.seconds / c.rates.length / 2), y: y.value(c.peakPerSecond * (pull.value?.index === i ? pull.value.factor : 1)) })))
const someFollow = computed(() => props.plan.classes.some((c) => c.turns !== undefined || c.arrivals.kind === 'closed-loop'))
const bands = computed(() => props.plan.classes.flatMap((c, i) => (withRate(c.arrivals)?.spikes ?? []).map((s) => ({ key: `${i} ${s.startSeconds}`, from: x.value(s.startSeconds), until: x.value(Math.min(props.plan.horizon.seconds, s.startSeconds + s.durationSeconds)), words: `${c.name} × ${threeDigits(s.factor)}` }))))
/** Names on the right, pushed apart where lines end close together. */
const names = computed(() => {
  const made = props.classes.map((c, i) => ({ i, name: c.name, y: y.value(c.peakPerSecond) }))
  made.sort((a, b) => a.y - b.y)
  made.forEach((n, k) => (n.y = k === 0 ? Math.max(TOP + 8, n.y) : Math.max(n.y, made[k - 1].y + 38)))
  return made
})
const reading = computed(() => props.classes.map((c) => c.rates[Math.min(c.rates.length - 1, Math.floor((props.cursorSeconds / props.plan.horizon.seconds) * c.rates.length))] ?? 0))

function point(event: PointerEvent): void {
  const rect = (event.currentTarget as SVGElement).getBoundingClientRect()
  if (pull.value) {
    const c = props.classes[pull.value.index]
    const rate = Math.max(c.peakPerSecond / 20, y.value.invert(event.clientY - rect.top))
    pull.value = { ...pull.value, factor: Math.min(20, rate / c.peakPerSecond) }
    return
  }
  emit('update:cursorSeconds', Math.min(props.plan.horizon.seconds, Math.max(0, x.value.invert(event.clientX - rect.left))))
}

function take(index: number, event: PointerEvent): void {
  if (!canPull(index)) return
  pull.value = { index, factor: 1 }
  ;(event.target as Element).closest('svg')?.setPointerCapture(event.pointerId)
}

function letGo(): void {
  if (pull.value && pull.value.factor !== 1) emit('scale', props.classes[pull.value.index].name, pull.value.factor)
  pull.value = null
}
</script>

<template>
  <div ref="box">
    <svg :width="width" :height="height" class="block touch-none select-none" role="group" aria-label="Arrivals per second over the horizon" @pointermove="point" @pointerup="letGo" @pointercancel="pull = null">
      <g v-for="t in y.ticks(5)" :key="`y${t}`">
        <line :x1="LEFT" :x2="width - RIGHT" :y1="y(t)" :y2="y(t)" stroke="var(--rule)" stroke-width="0.7" />
        <text :x="LEFT - 6" :y="y(t) + 4" text-anchor="end" class="chart-axis">{{ t }}</text>
      </g>
      <text :x="LEFT - 6" :y="TOP - 4" text-anchor="end" class="chart-axis">/s</text>
      <g v-for="t in ticks" :key="`x${t.seconds}`">
        <line :x1="x(t.seconds)" :x2="x(t.seconds)" :y1="TOP" :y2="height - BOTTOM + 5" stroke="var(--rule)" />
        <text :x="x(t.seconds) + 4" :y="height - BOTTOM + 16" class="chart-axis">{{ t.label }}</text>
      </g>
      <g v-for="b in bands" :key="b.key">
        <rect :x="b.from" :y="TOP" :width="Math.max(2, b.until - b.from)" :height="height - TOP - BOTTOM" fill="var(--sand-soft)" opacity="0.28" />
        <title>Spike: {{ b.words }}</title>
      </g>
      <path v-if="ghost" :d="ghost" fill="none" stroke="var(--faded)" stroke-dasharray="3 3" />
      <g v-for="(c, i) in classes" :key="c.name">
        <path :d="paths[i]" :fill="classColour(i)" fill-opacity="0.1" :stroke="classColour(i)" stroke-width="1.400" :stroke-dasharray="classDash(i)" stroke-linejoin="round" />
      </g>
      <line :x1="x(cursorSeconds)" :x2="x(cursorSeconds)" :y1="TOP" :y2="height - BOTTOM" stroke="var(--ink)" stroke-width="1" />
      <g v-for="n in names" :key="n.name">
        <text :x="width - RIGHT + 10" :y="n.y" :fill="classColour(n.i)" class="chart-name">{{ n.name }}</text>
        <text :x="width - RIGHT + 10" :y="n.y + 15" class="chart-axis">{{ threeDigits(reading[n.i]) }} /s here</text>
      </g>
      <g v-for="(k, i) in knobs" :key="`k${i}`">
        <circle
          v-if="canPull(i)" :cx="k.x" :cy="k.y" r="7" fill="var(--leaf)" :stroke="classColour(i)" stroke-width="2.500" class="cursor-ns-resize" tabindex="0" role="slider"
          :aria-label="`Height of ${classes[i].name}, requests a second`" :aria-valuenow="Number(classes[i].peakPerSecond.toFixed(2))" :aria-valuetext="`${threeDigits(classes[i].peakPerSecond)} a second`" aria-orientation="vertical"
          @pointerdown.prevent="take(i, $event)" @keydown.up.prevent="emit('scale', classes[i].name, NUDGE)" @keydown.down.prevent="emit('scale', classes[i].name, 1 / NUDGE)"
        />
        <text v-if="pull?.index === i" :x="k.x + 12" :y="k.y + 4" class="chart-name">{{ threeDigits(classes[i].peakPerSecond * pull.factor) }} /s</text>
      </g>
    </svg>
    <p class="mt-1 text-[0.82rem] text-faded">{{ clock(plan.horizon.start, cursorSeconds) }} under the cursor. Shaded: spikes. Pull a ring to raise or lower a class.<template v-if="someFollow"> Requests that follow others are drawn as if answers took no time.</template></p>
  </div>
</template>
