<script setup lang="ts">
import InTurn from '../components/frame/InTurn.vue'
import LoadCurve from '../components/load/LoadCurve.vue'
import AskHistory from '../components/load/AskHistory.vue'
import HistoryReport from '../components/load/HistoryReport.vue'
import LoadShape from '../components/load/LoadShape.vue'
import LogReport from '../components/load/LogReport.vue'
import SizeCurves from '../components/load/SizeCurves.vue'
import { clock, threeDigits, withRate, type Figures, type FromLog } from '@sandclock/core'
import { computed, ref } from 'vue'
import { demoPlan } from '../data/demo.ts'
import { scalePeak } from '../edits/edits.ts'
import { putLaid, removeLaid } from '../edits/loadEdits.ts'
import { useHistoryStore } from '../stores/historyStore.ts'
import { useLogStore } from '../stores/logStore.ts'
import { useLookStore } from '../stores/lookStore.ts'
import { usePlanStore } from '../stores/planStore.ts'
import { useViewStore } from '../stores/viewStore.ts'

const plans = usePlanStore()
const views = useViewStore()
const logs = useLogStore()
const histories = useHistoryStore()
const look = useLookStore()
const emit = defineEmits<{ pickFile: [] }>()
/** The class whose hours and days are there to be painted: the first one until another is chosen. */
const chosenName = ref('')
const chosen = computed(
  () => plans.plan.classes.find((c) => c.name === chosenName.value) ?? plans.plan.classes.find((c) => withRate(c.arrivals)),
)
/** On the machines of the open plan. */
async function beginFrom(source: typeof logs | typeof histories, figures: Figures, from: Omit<FromLog, 'log'>): Promise<void> {
  const begun = await source.begin(figures, plans.plan.machines.length > 0 ? plans.plan : demoPlan, from)
  if (begun) await plans.add(begun.plan, begun.text)
}
</script>

<template>
  <div>
    <h1 class="sr-only">Load</h1>
    <LogReport
      v-if="logs.report"
      :log="logs.report.log"
      :name="logs.report.files.map((f) => f.name).join(', ')"
      :peek="logs.report.peek"
      :columns="logs.report.columns"
      :is-remembered="logs.report.isRemembered"
      :happened="logs.report.happened"
      :bad-rows="logs.report.badRows"
      :fit="logs.fit"
      @columns="logs.setColumns"
      @describe="logs.describe"
      @begin="(figures, from) => beginFrom(logs, figures, from)"
      @use="logs.use"
      @put-away="logs.putAway" />
    <HistoryReport
      v-if="histories.report"
      :report="histories.report"
      :fit="histories.fit"
      @say="histories.say"
      @begin="(figures, from) => beginFrom(histories, figures, from)"
      @put-away="histories.putAway" />
    <p v-if="logs.reading" role="status" class="mb-2">Reading the log …</p>
    <LoadCurve
      v-if="views.load.length > 0"
      v-model:cursor-seconds="look.cursorSeconds"
      :plan="plans.plan"
      :classes="views.load"
      :height="270"
      :chosen="chosen?.name ?? ''"
      @scale="(name, factor) => plans.edit(scalePeak(name, factor))"
      @choose="(name) => (chosenName = name)"
      @put="(laid) => chosen && plans.edit(putLaid(chosen.name, laid))"
      @remove="(laid) => chosen && plans.edit(removeLaid(chosen.name, laid))" />
    <InTurn>
      <LoadShape
        v-if="chosen"
        :plan="plans.plan"
        :request-class="chosen"
        :cursor-seconds="look.cursorSeconds"
        @edit="(edit) => plans.edit(edit)" />
    </InTurn>
    <h2 class="mb-1 mt-4 text-[1.15rem]"
      >How long requests are
      <span class="font-sans text-[0.82rem] text-faded">tokens or work units; filled: prompt, outlined: answer</span>
    </h2>
    <div :style="{ minHeight: `${views.load.length * 66 + 26}px` }">
      <InTurn><SizeCurves v-if="views.load.length > 0" :classes="views.load" /></InTurn>
    </div>
    <details class="mt-3 text-[0.9rem]">
      <summary class="cursor-pointer text-water">Exact figures of this picture</summary>
      <table class="exact mt-1">
        <thead>
          <tr>
            <th scope="col">class</th>
            <th scope="col" class="number">requests</th>
            <th scope="col" class="number">largest rate</th>
            <th scope="col">when</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in views.load" :key="c.name">
            <td>
              {{ c.name }}
            </td>
            <td class="number">
              {{ threeDigits(c.count) }}
            </td>
            <td class="number"> {{ threeDigits(c.peakPerSecond) }} /s</td>
            <td>
              {{ clock(plans.plan.horizon.start, c.peakAtSeconds) }}
            </td>
          </tr>
        </tbody>
      </table>
    </details>
    <p class="mt-3 text-[0.9rem] text-faded">
      Have a real log? Drop it anywhere on this page, or
      <button type="button" class="word" @click="emit('pickFile')">pick the file</button>: CSV, TSV, JSON lines or Parquet, plain, gzip or
      zstd; several files are one log. It wants a time and a number of tokens a row; a class, an answer’s tokens, how long it took and
      whether it went well are read where they are there. Or a metrics history: what a monitoring system answers to a query over a range of
      time (JSON), or the open metrics format with times.
    </p>
    <AskHistory :asking="histories.asking" @ask="histories.ask" />
  </div>
</template>
