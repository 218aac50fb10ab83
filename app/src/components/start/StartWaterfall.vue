<script setup lang="ts">
import { bytes, duration, price, STARTS, waysOf, WEIGHTS_FROM, type StageName, type StartLine } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import { across } from '../../charts/plot.ts'
import { pixelAxis, type Axis, type BarSeries, type Series } from '../../charts/spec.ts'
import Swatch from '../../charts/Swatch.vue'
import { STAGE_INKS } from './stageInks.ts'
import InTurn from '../frame/InTurn.vue'
import PullTab from '../frame/PullTab.vue'
import { useWidth } from '../../composables/useWidth.ts'

/** Start-ups laid out on one scale of time: a line for every way of keeping weights and every place to begin. */
const props = defineProps<{
  lines: readonly StartLine[]
  used: StartLine['weightsFrom']
  currency: string
  timeoutSeconds: number | undefined
}>()
const emit = defineEmits<{
  use: [from: StartLine['weightsFrom']]
  stage: [stage: StageName, seconds: number]
  timeout: [seconds: number]
}>()

const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 190, right: 190 }
const ROW = 27
const GROUP_GAP = 12
const WAYS: Record<StartLine['weightsFrom'], string> = {
  store: 'weights fetched at each start',
  image: 'weights in the image',
  node: 'weights kept on the machine',
}
const NAMES: Record<StageName, string> = { machine: 'machine', image: 'image', weights: 'weights', load: 'load', warmup: 'warm-up' }

const BAR = 19

const longest = computed(() => Math.max(1, ...props.lines.map((l) => l.readySeconds)))
const x = computed(() => scaleLinear([0, longest.value], across(PLOT, width.value, 100)))
const groups = computed(() => waysOf(WEIGHTS_FROM).map((way) => ({ way, lines: props.lines.filter((l) => l.weightsFrom === way) })))
const height = computed(() => groups.value.reduce((sum, g) => sum + g.lines.length * ROW + GROUP_GAP + 16, 24))
const top = (group: number, line: number) =>
  groups.value.slice(0, group).reduce((sum, g) => sum + g.lines.length * ROW + GROUP_GAP + 16, 0) + line * ROW + 20
const xAxis = computed((): Axis => ({ scale: x.value, ticks: x.value.ticks(6).map((t) => ({ at: t, label: duration(t) })) }))
const yAxis = computed(() => pixelAxis(height.value - 18, 14))
const rows = computed(() => groups.value.flatMap((g, gi) => g.lines.map((line, li) => ({ line, at: top(gi, li) + 4 + BAR / 2 }))))
const series = computed((): Series[] => {
  const barsOf = (stage: StageName, dominant: boolean): BarSeries => ({
    kind: 'bars',
    thickness: BAR,
    ink: STAGE_INKS[stage],
    outline: { colour: '--ink', width: dominant ? 1.8 : 0.7 },
    bars: rows.value.flatMap(({ line, at }) =>
      line.stages.flatMap((s) =>
        s.stage === stage && s.seconds > 0 && (s.stage === line.dominant) === dominant
          ? [{ from: s.fromSeconds, until: s.fromSeconds + s.seconds, at }]
          : [],
      ),
    ),
  })
  const stages = Object.keys(NAMES) as StageName[] // the record has them all
  const given: Series[] = rows.value.flatMap(({ line, at }) =>
    line.timedOutAt === null
      ? []
      : [{ kind: 'line', points: [-14, 14].map((d) => ({ x: line.timedOutAt ?? 0, y: at + d })), colour: '--rust', width: 2.5 }],
  )
  // A heavy frame lies over its neighbours' thin ones.
  return [...stages.map((s) => barsOf(s, false)), ...stages.map((s) => barsOf(s, true)), ...given].filter(
    (one) => one.kind !== 'bars' || one.bars.length > 0,
  )
})
/** What another way of keeping weights saves against the one in use, from nothing. */
const baseline = computed(() => props.lines.find((l) => l.weightsFrom === props.used && l.from === 'before'))

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
  if (!b || l.from !== 'before' || l.weightsFrom === props.used) return ''
  const seconds = b.readySeconds - l.readySeconds
  if (Math.abs(seconds) < 0.5) return 'no difference'
  return `${duration(Math.abs(seconds))} and ${price(Math.abs(b.paid - l.paid), props.currency)} ${seconds > 0 ? 'less' : 'more'} a start`
}
</script>

<template>
  <div ref="box">
    <ChartPicture
      :x="xAxis"
      :y="yAxis"
      :series="series"
      :width="width"
      :height="height"
      role="group"
      aria-label="Start-ups, stage by stage, on one scale of time; the table below has the same">
      <template v-for="(g, gi) in groups" :key="g.way">
        <span
          class="chart-word chart-name"
          :style="{ left: 0, top: `${top(gi, 0) - 18}px`, color: g.way === used ? 'var(--sand)' : 'var(--ink)' }"
          >{{ WAYS[g.way] }}{{ g.way === used ? ', as in the plan' : '' }}</span
        >
        <template v-for="(l, li) in g.lines" :key="l.from">
          <span class="chart-word" :style="{ left: '12px', top: `${top(gi, li) + 6}px` }">from {{ STARTS[l.from] }}</span>
          <template v-for="s in l.stages" :key="s.stage">
            <span
              v-if="x(s.seconds) - x(0) > 62"
              class="chart-word stage-name"
              :style="{ left: `${(x(s.fromSeconds) + x(s.fromSeconds + s.seconds)) / 2}px`, top: `${top(gi, li) + 6}px` }"
              >{{ NAMES[s.stage] }} {{ duration(s.seconds) }}</span
            >
          </template>
          <span
            v-if="l.timedOutAt !== null"
            class="chart-word text-rust"
            :style="{ left: `${x(l.timedOutAt) + 4}px`, top: `${top(gi, li) - 10}px` }"
            >given up here</span
          >
          <span class="chart-word" :style="{ left: `${x(l.readySeconds) + 10}px`, top: `${top(gi, li) + 6}px` }"
            ><b class="chart-name text-ink">{{ duration(l.readySeconds) }}</b> {{ saving(l) }}</span
          >
        </template>
      </template>
      <span v-if="draft !== null && pulled" class="draft" :style="{ left: `${x(draft)}px`, top: `${pulled.top - 2}px` }" />
      <template v-if="pulled">
        <PullTab
          v-for="s in pulled.line.stages"
          :key="s.stage"
          axis="x"
          :left="x(s.fromSeconds + s.seconds) - 4"
          :top="pulled.top + 3"
          class="grip"
          :value="Math.round(s.seconds)"
          :least="s.stage === 'machine' || s.stage === 'warmup' ? 0 : 1"
          :most="86_400"
          :step="1"
          :label="`Length of the stage ${NAMES[s.stage]}`"
          :words="duration(s.seconds)"
          :value-at="(px) => x.invert(px) - s.fromSeconds"
          @pull="(v) => (draft = s.fromSeconds + v)"
          @commit="(v) => commit(s.stage, v)"
          ><span aria-hidden="true">⋮</span></PullTab
        >
        <PullTab
          v-if="limitAt !== undefined && timeoutSeconds !== undefined && limitAt <= longest"
          axis="x"
          :left="x(limitAt) - 4"
          :top="pulled.top + 3"
          class="grip"
          :value="Math.round(timeoutSeconds)"
          :least="1"
          :most="86_400"
          :step="1"
          label="Time-out"
          :words="duration(timeoutSeconds)"
          :value-at="(px) => x.invert(px) - machine"
          @pull="(v) => (draft = machine + v)"
          @commit="(v) => ((draft = null), emit('timeout', v))"
          ><span aria-hidden="true">⋮</span></PullTab
        >
      </template>
    </ChartPicture>
    <InTurn>
      <p class="flex flex-wrap gap-x-5 text-[0.84rem]">
        <span v-for="[stage, name] in Object.entries(NAMES)" :key="stage" class="inline-flex items-center gap-1.5"
          ><Swatch :ink="STAGE_INKS[stage as StageName]" outlined />{{ name }}</span
        >
        <span class="text-faded">a heavy frame marks the longest stage</span>
      </p>
      <p class="mt-1 text-[0.9rem]"
        >Keep weights
        <template v-for="(g, i) in groups" :key="g.way"
          ><template v-if="i > 0">{{ i === 2 ? ' or ' : ', ' }}</template
          ><button type="button" class="word" :disabled="g.way === used" @click="emit('use', g.way)">{{
            WEIGHTS_FROM[g.way].kept
          }}</button></template
        >.</p
      >
      <details class="mt-1 text-[0.9rem]">
        <summary class="cursor-pointer text-water">Exact figures of this picture</summary>
        <table class="exact">
          <thead>
            <tr>
              <th scope="col">weights</th>
              <th scope="col">from</th>
              <th v-for="n in NAMES" :key="n" scope="col" class="number">
                {{ n }}
              </th>
              <th scope="col" class="number">ready after</th>
              <th scope="col" class="number">fetched by all</th>
              <th scope="col" class="number">paid until ready</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in lines" :key="l.weightsFrom + l.from">
              <td>
                {{ WAYS[l.weightsFrom] }}
              </td>
              <td>
                {{ STARTS[l.from] }}
              </td>
              <td v-for="s in l.stages" :key="s.stage" class="number">
                {{ s.seconds === 0 ? '–' : duration(s.seconds) }}
              </td>
              <td class="number">
                {{ duration(l.readySeconds) }}
              </td>
              <td class="number">
                {{ bytes(l.fetchedBytes) }}
              </td>
              <td class="number">
                {{ price(l.paid, currency) }}
              </td>
            </tr>
          </tbody>
        </table>
      </details>
    </InTurn>
  </div>
</template>

<style scoped>
.stage-name {
  translate: -50% 0;
  padding: 0 4px;
  color: var(--color-ink);
  background: var(--color-leaf);
  border-radius: 3px;
}
.draft {
  position: absolute;
  height: 32px;
  border-left: 1.5px dashed var(--color-sand);
  pointer-events: none;
}
.grip {
  width: 8px;
  height: 21px;
  padding: 0;
  line-height: 20px;
  text-align: center;
  border-bottom: none;
  border-radius: 3px;
}
</style>
