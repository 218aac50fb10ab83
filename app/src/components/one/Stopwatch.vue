<script setup lang="ts">
import { READ_FIGURES, waysOf, type ReadFigure, type Reading } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across } from '../../charts/plot.ts'
import { pixelAxis, type Axis, type Mark, type Series } from '../../charts/spec.ts'
import { useWidth } from '../../composables/useWidth.ts'
import EditableChoice from '../sentence/EditableChoice.vue'
import EditableFigure from '../sentence/EditableFigure.vue'

/** Readings of real tries, and what they prove: which capacities are left, and the next try that would say most. */
const props = defineProps<{
  read: readonly Reading[]
  /** where the tries were made, in words */
  place: string
  working: { settled: number; of: number } | null
  /** what they prove, in words; capacities that are left, lowest first */
  words: readonly string[]
  left: readonly number[]
}>()
const emit = defineEmits<{ read: [read: Reading[]] }>()

const FIRST: Reading = { figure: 'whole', value: 10, others: 0 }
const set = (index: number, patch: Partial<Reading>) =>
  emit(
    'read',
    props.read.map((r, i) => (i === index ? { ...r, ...patch } : r)),
  )
const figureOf = (words: string): ReadFigure => waysOf(READ_FIGURES).find((f) => READ_FIGURES[f].words === words) ?? 'whole'
const of = (what: string, i: number) => `${what} of reading ${i + 1}`

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const HEIGHT = 52
const PLOT = { left: 8, right: 120 }
const x = computed(() => scaleLinear([0, (props.left[props.left.length - 1] ?? 1) * 1.1], across(PLOT, width.value, 100)))
const xAxis = computed((): Axis => ({ scale: x.value, ticks: x.value.ticks(7).map((at) => ({ at, label: String(at) })) }))
const yAxis = pixelAxis(HEIGHT - 18, 4)
const grains = computed((): Series[] => [
  { kind: 'points', points: props.left.map((value) => ({ x: value, y: 20 })), colour: '--sand', shape: 'grain', radius: 4 },
])
const between = computed((): Mark[] => [
  { kind: 'area', x: [props.left[0], props.left[props.left.length - 1]], colour: '--sand-soft', alpha: 0.4 },
])
</script>

<template>
  <section aria-label="What a stopwatch proves" class="mt-4">
    <h2 class="text-[1.15rem]"
      >What a stopwatch proves <span class="font-sans text-[0.82rem] text-faded">of a real try of {{ place }}</span></h2
    >
    <ul class="text-[0.95rem]">
      <li v-for="(r, i) in read" :key="i" class="leading-[1.8]">
        It was
        <EditableFigure
          :value="r.value"
          kind="number"
          :min="0.001"
          :max="1e6"
          :label="of('Figure', i)"
          @commit="(value) => set(i, { value })" />{{ ' '
        }}<EditableChoice
          :value="READ_FIGURES[r.figure].words"
          :options="waysOf(READ_FIGURES).map((f) => READ_FIGURES[f].words)"
          :label="of('What was read', i)"
          @commit="(words) => set(i, { figure: figureOf(words) })" />, with
        <EditableFigure
          :value="r.others"
          kind="count"
          :min="0"
          :max="1000"
          :label="of('Others', i)"
          @commit="(others) => set(i, { others })" />
        others in service
        <button
          type="button"
          class="word text-[0.8rem]"
          @click="
            emit(
              'read',
              props.read.filter((_, k) => k !== i),
            )
          "
          >take out</button
        >
      </li>
    </ul>
    <p class="text-[0.9rem]"
      ><button type="button" class="word" @click="emit('read', [...read, read[read.length - 1] ?? FIRST])">{{
        read.length === 0 ? 'type what a real try took' : 'another reading'
      }}</button></p
    >
    <p v-if="working" role="status" class="text-[0.9rem] text-faded"
      >{{ Math.round((100 * working.settled) / working.of) }} % of what may be is tried …</p
    >
    <template v-if="words.length > 0">
      <!-- Each capacity that is left is a grain; where they lie close, it is likely. -->
      <div v-if="left.length > 0" ref="box" class="my-2 max-w-[56rem]">
        <ChartPicture
          :x="xAxis"
          :y="yAxis"
          :series="grains"
          :marks="between"
          :width="width"
          :height="HEIGHT"
          role="img"
          :aria-label="`Capacities that are left: ${words[0]}`">
          <span class="chart-word" :style="{ right: '0px', top: `${HEIGHT - 16}px` }">requests a second</span>
        </ChartPicture>
      </div>
      <ul class="text-[0.95rem]"
        ><li v-for="w in words" :key="w">{{ w }}.</li></ul
      >
    </template>
  </section>
</template>
