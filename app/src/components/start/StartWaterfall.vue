<script setup lang="ts">
import { bytes, duration, price, waysOf, WEIGHTS_FROM, type StageName, type StartLine } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref, useTemplateRef } from 'vue'
import PullTab from '../frame/PullTab.vue'
import { useWidth } from '../../composables/useWidth.ts'

/** Start-ups laid out on one scale of time: a line for every way of keeping weights and every place to begin. */
const props = defineProps<{ lines: readonly StartLine[]; used: StartLine['weightsFrom']; currency: string; timeoutSeconds: number | undefined }>()
const emit = defineEmits<{ use: [from: StartLine['weightsFrom']]; stage: [stage: StageName, seconds: number]; timeout: [seconds: number] }>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const LEFT = 190
const RIGHT = 190
const ROW = 27
const GROUP_GAP = 12
const WAYS: Record<StartLine['weightsFrom'], string> = { store: 'weights fetched at each start', image: 'weights in the image', node: 'weights kept on the machine' }
const NAMES: Record<StageName, string> = { machine: 'machine', image: 'image', weights: 'weights', load: 'load', warmup: 'warm-up' }

const longest = computed(() => Math.max(1, ...props.lines.map((l) => l.readySeconds)))
const x = computed(() => scaleLinear([0, longest.value], [LEFT, Math.max(LEFT + 100, width.value - RIGHT)]))
const groups = computed(() => waysOf(WEIGHTS_FROM).map((way) => ({ way, lines: props.lines.filter((l) => l.weightsFrom === way) })))
const height = computed(() => groups.value.reduce((sum, g) => sum + g.lines.length * ROW + GROUP_GAP + 16, 24))
const top = (group: number, line: number) => groups.value.slice(0, group).reduce((sum, g) => sum + g.lines.length * ROW + GROUP_GAP + 16, 0) + line * ROW + 20
/** What another way of keeping weights saves against the one in use, from nothing. */
const baseline = computed(() => props.lines.find((l) => l.weightsFrom === props.used && l.from === 'where one was before'))

/** The line whose stages are pulled: the plan's own, from nothing. */
const pulled = computed(() => {
  const group = groups.value.findIndex((g) => g.way === props.used)
  const line = groups.value[group]?.lines.findIndex((l) => l.from === 'nothing') ?? -1
  return line < 0 ? undefined : { line: groups.value[group].lines[line], top: top(group, line) }
})
/** where a stage would end while it is pulled */
const draft = ref<number | null>(null)
const machine = computed(() => pulled.value?.line.stages.find((s) => s.stage === 'machine')?.seconds ?? 0)
/** The time-out runs from when the machine is there. */
const limitAt = computed(() => (props.timeoutSeconds === undefined ? undefined : machine.value + props.timeoutSeconds))

function commit(stage: StageName, seconds: number): void {
  draft.value = null
  emit('stage', stage, seconds)
}

function saving(l: StartLine): string {
  const b = baseline.value
  if (!b || l.from !== 'where one was before' || l.weightsFrom === props.used) return ''
  const seconds = b.readySeconds - l.readySeconds
  if (Math.abs(seconds) < 0.5) return 'no difference'
  return `${duration(Math.abs(seconds))} and ${price(Math.abs(b.paid - l.paid), props.currency)} ${seconds > 0 ? 'less' : 'more'} a start`
}
</script>

<template>
  <div ref="box">
   <div class="relative">
    <svg :width="width" :height="height" role="group" aria-label="Start-ups, stage by stage, on one scale of time; the table below has the same">
      <defs>
        <pattern id="stage-machine" width="6" height="6" patternUnits="userSpaceOnUse"><rect width="6" height="6" fill="var(--leaf)" /><circle cx="3" cy="3" r="1.200" fill="var(--ink)" /></pattern>
        <pattern id="stage-image" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="5" height="5" fill="var(--leaf)" /><line x1="0" x2="0" y1="0" y2="5" stroke="var(--faded)" stroke-width="2" /></pattern>
        <pattern id="stage-load" width="4" height="4" patternUnits="userSpaceOnUse"><rect width="4" height="4" fill="var(--leaf)" /><line x1="0" x2="0" y1="0" y2="4" stroke="var(--water)" stroke-width="3" /></pattern>
        <pattern id="stage-warmup" width="8" height="8" patternUnits="userSpaceOnUse"><rect width="8" height="8" fill="var(--water-soft)" /><path d="M0,4h8" stroke="var(--water)" stroke-width="1.200" /></pattern>
      </defs>
      <g v-for="t in x.ticks(8)" :key="t"><line :x1="x(t)" :x2="x(t)" y1="14" :y2="height - 18" stroke="var(--rule)" /><text :x="x(t)" :y="height - 4" text-anchor="middle" class="chart-axis">{{ duration(t) }}</text></g>
      <g v-for="(g, gi) in groups" :key="g.way">
        <text x="0" :y="top(gi, 0) - 6" class="chart-name" :fill="g.way === used ? 'var(--sand)' : 'var(--ink)'">{{ WAYS[g.way] }}{{ g.way === used ? ', as in the plan' : '' }}</text>
        <g v-for="(l, li) in g.lines" :key="l.from" :transform="`translate(0,${top(gi, li)})`">
          <text x="12" y="17" class="chart-axis">from {{ l.from }}</text>
          <template v-for="s in l.stages" :key="s.stage">
            <rect v-if="s.seconds > 0" :x="x(s.fromSeconds)" y="4" :width="Math.max(1, x(s.fromSeconds + s.seconds) - x(s.fromSeconds))" height="19" :fill="s.stage === 'weights' ? 'var(--sand)' : `url(#stage-${s.stage})`" stroke="var(--ink)" :stroke-width="s.stage === l.dominant ? 1.8 : 0.7">
              <title>{{ NAMES[s.stage] }} {{ duration(s.seconds) }}</title>
            </rect>
            <text v-if="x(s.fromSeconds + s.seconds) - x(s.fromSeconds) > 62" :x="(x(s.fromSeconds) + x(s.fromSeconds + s.seconds)) / 2" y="18" text-anchor="middle" class="chart-label">{{ NAMES[s.stage] }} {{ duration(s.seconds) }}</text>
          </template>
          <g v-if="l.timedOutAt !== null"><line :x1="x(l.timedOutAt)" :x2="x(l.timedOutAt)" y1="0" y2="27" stroke="var(--rust)" stroke-width="2.500" /><text :x="x(l.timedOutAt) + 4" y="2" class="chart-axis" fill="var(--rust)">given up here</text></g>
          <text :x="x(l.readySeconds) + 10" y="18" class="chart-name" fill="var(--ink)">{{ duration(l.readySeconds) }}</text>
          <text :x="x(l.readySeconds) + 78" y="18" class="chart-axis">{{ saving(l) }}</text>
        </g>
      </g>
      <line v-if="draft !== null && pulled" :x1="x(draft)" :x2="x(draft)" :y1="pulled.top - 2" :y2="pulled.top + 30" stroke="var(--sand)" stroke-width="1.500" stroke-dasharray="3 2" />
    </svg>
    <template v-if="pulled">
      <PullTab
        v-for="s in pulled.line.stages" :key="s.stage" axis="x" :left="x(s.fromSeconds + s.seconds) - 4" :top="pulled.top + 3" class="grip" :value="Math.round(s.seconds)" :least="s.stage === 'machine' || s.stage === 'warmup' ? 0 : 1" :most="86_400" :step="1"
        :label="`Length of the stage ${NAMES[s.stage]}`" :words="duration(s.seconds)" :value-at="(px) => x.invert(px) - s.fromSeconds" @pull="(v) => (draft = s.fromSeconds + v)" @commit="(v) => commit(s.stage, v)"
      ><span aria-hidden="true">⋮</span></PullTab>
      <PullTab
        v-if="limitAt !== undefined && timeoutSeconds !== undefined && limitAt <= longest" axis="x" :left="x(limitAt) - 4" :top="pulled.top + 3" class="grip" :value="Math.round(timeoutSeconds)" :least="1" :most="86_400" :step="1"
        label="Time-out" :words="duration(timeoutSeconds)" :value-at="(px) => x.invert(px) - machine" @pull="(v) => (draft = machine + v)" @commit="(v) => ((draft = null), emit('timeout', v))"
      ><span aria-hidden="true">⋮</span></PullTab>
    </template>
   </div>
    <p class="flex flex-wrap gap-x-5 text-[0.84rem]">
      <span v-for="[stage, name] in Object.entries(NAMES)" :key="stage" class="inline-flex items-center gap-1.5"><svg width="22" height="12" aria-hidden="true"><rect width="22" height="12" :fill="stage === 'weights' ? 'var(--sand)' : `url(#stage-${stage})`" stroke="var(--ink)" /></svg>{{ name }}</span>
      <span class="text-faded">a heavy frame marks the longest stage</span>
    </p>
    <p class="mt-1 text-[0.9rem]">Keep weights <template v-for="(g, i) in groups" :key="g.way"><template v-if="i > 0">{{ i === 2 ? ' or ' : ', ' }}</template><button type="button" class="word" :disabled="g.way === used" @click="emit('use', g.way)">{{ WEIGHTS_FROM[g.way].kept }}</button></template>.</p>
    <details class="mt-1 text-[0.9rem]">
      <summary class="cursor-pointer text-water">Exact figures of this picture</summary>
      <table class="exact">
        <thead><tr><th scope="col">weights</th><th scope="col">from</th><th v-for="n in NAMES" :key="n" scope="col" class="number">{{ n }}</th><th scope="col" class="number">ready after</th><th scope="col" class="number">fetched by all</th><th scope="col" class="number">paid until ready</th></tr></thead>
        <tbody><tr v-for="l in lines" :key="l.weightsFrom + l.from"><td>{{ WAYS[l.weightsFrom] }}</td><td>{{ l.from }}</td><td v-for="s in l.stages" :key="s.stage" class="number">{{ s.seconds === 0 ? '–' : duration(s.seconds) }}</td><td class="number">{{ duration(l.readySeconds) }}</td><td class="number">{{ bytes(l.fetchedBytes) }}</td><td class="number">{{ price(l.paid, currency) }}</td></tr></tbody>
      </table>
    </details>
  </div>
</template>

<style scoped>
.grip { width: 8px; height: 21px; padding: 0; line-height: 20px; text-align: center; border-bottom: none; border-radius: 3px; }
</style>
