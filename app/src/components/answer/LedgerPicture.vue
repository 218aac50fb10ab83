<script setup lang="ts">
import { clock, HOURS_PER_MONTH, percent, price, type LedgerParts } from '@sandclock/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref, useTemplateRef } from 'vue'
import ChartPicture from '../../charts/ChartPicture.vue'
import type { Ink } from '../../charts/ink.ts'
import { bareAxis, type Axis, type BarSeries, type LineSeries, type Point } from '../../charts/spec.ts'
import Swatch from '../../charts/Swatch.vue'
import { useWidth } from '../../composables/useWidth.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import type { MoneyView } from '../../worker/runViews.ts'

/**
 * Where a month's money goes: a bar for every service and for what is paid beside them, all to one scale; below, one
 * service through its horizon. Arrow keys walk through time.
 */
const props = defineProps<{
  rows: readonly { service: string; money: MoneyView }[]
  fixed: readonly { name: string; perMonth: number }[]
  shared: readonly { machine: string; savedPerMonth: number }[]
  shown: string
  horizonSeconds: number
  startIso: string
  currency: string
}>()

const PARTS: { part: keyof LedgerParts; name: string }[] = [
  { part: 'serving', name: 'serving' },
  { part: 'idle', name: 'ready and idle' },
  { part: 'starting', name: 'starting up' },
  { part: 'leaving', name: 'empty until given back' },
  { part: 'rounding', name: 'billing steps' },
  { part: 'unused', name: 'committed, not used' },
  { part: 'storage', name: 'disks' },
  { part: 'transfer', name: 'transfer of starts' },
]
/** Texture as well as colour, so that the parts can be told apart without it. */
const INKS: Record<string, Ink> = {
  serving: { colour: '--water' },
  idle: { colour: '--sand-soft' },
  starting: { colour: '--faded', hatch: 'slant' },
  leaving: { colour: '--moss', hatch: 'upright' },
  rounding: { colour: '--rust', hatch: 'slant-back' },
  unused: { colour: '--rust', hatch: 'level' },
  storage: { colour: '--ink', hatch: 'dots' },
  transfer: { colour: '--water', hatch: 'slant' },
}
const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const PLOT = { left: 118, right: 110 }
const HEIGHT = 104
const BAR = 15
const ROW = 25

const month = (amount: number) => (amount / (props.horizonSeconds / 3600)) * HOURS_PER_MONTH
const fixedTotal = computed(() => props.fixed.reduce((sum, f) => sum + f.perMonth, 0))
const saved = computed(() => props.shared.reduce((sum, s) => sum + s.savedPerMonth, 0))
const most = computed(() => Math.max(fixedTotal.value, ...props.rows.map((r) => month(r.money.ledger.total))))
const bars = computed(() =>
  props.rows.map(({ service, money: { ledger } }) => ({
    name: service,
    total: month(ledger.total),
    parts: PARTS.flatMap(({ part, name }) =>
      ledger[part] > ledger.total * 5e-4 ? [{ name, part, share: month(ledger[part]) / most.value, amount: month(ledger[part]) }] : [],
    ),
  })),
)
const used = computed(() => PARTS.filter(({ part }) => bars.value.some((b) => b.parts.some((p) => p.part === part))))

const ledger = computed(() => props.rows.find((r) => r.service === props.shown)?.money.ledger)
const top = computed(() => Math.max(1e-9, ...(ledger.value?.pieces ?? []).map((p) => PARTS.reduce((sum, { part }) => sum + p[part], 0))))
const perHour = (amount: number) => (amount * 3600) / (ledger.value?.pieceSeconds ?? 3600)
const months = computed(() => scaleLinear([0, Math.max(1e-9, most.value)], [0, Math.max(1, width.value - PLOT.left - PLOT.right)]))
/** A bar lies in the middle of its row; below the services what is shared and what stands beside them. */
const barRows = computed(() => bars.value.length + (saved.value > 0 ? 1 : 0) + (fixedTotal.value > 0 ? 1 : 0))
const barAxis = computed(() => bareAxis(scaleLinear([barRows.value, 0], [barRows.value * ROW, 0])))
const barSeries = computed((): BarSeries[] => {
  const outlined = (amount: number, row: number, colour: string): BarSeries => ({
    kind: 'bars',
    thickness: BAR,
    ink: { colour: 'transparent' },
    outline: { colour, width: 1.2 },
    bars: amount > 0 ? [{ from: 0, until: amount, at: row + 0.5 }] : [],
  })
  const parts = used.value.map(({ part }): BarSeries => ({
    kind: 'bars',
    thickness: BAR,
    ink: INKS[part],
    bars: bars.value.flatMap((b, row) => {
      const place = b.parts.findIndex((p) => p.part === part)
      const from = b.parts.slice(0, Math.max(0, place)).reduce((sum, p) => sum + p.amount, 0)
      return place < 0 ? [] : [{ from, until: from + b.parts[place].amount, at: row + 0.5 }]
    }),
  }))
  return [...parts, outlined(saved.value, bars.value.length, '--moss'), outlined(fixedTotal.value, barRows.value - 1, '--ink')]
})

const time = computed(() => scaleLinear([0, props.horizonSeconds], [PLOT.left, width.value]))
const timeAxis = computed((): Axis => ({
  scale: time.value,
  labels: 'after',
  ticks: timeTicks(props.startIso, 0, props.horizonSeconds).map((t) => ({ at: t.seconds, label: t.label })),
}))
const moneyAxis = computed(() => bareAxis(scaleLinear([0, top.value], [HEIGHT, 0])))
/** One area for each part, each upon the ones before it. */
const areas = computed((): LineSeries[] => {
  const { pieces = [], pieceSeconds = 0 } = ledger.value ?? {}
  const below = pieces.map(() => 0)
  const line = (): Point[] => [
    ...below.map((y, i) => ({ x: i * pieceSeconds, y })),
    { x: pieces.length * pieceSeconds, y: below.at(-1) ?? 0 },
  ]
  const ground: LineSeries = { kind: 'line', points: line(), colour: 'transparent', width: 0, stepped: true }
  return [
    ground,
    ...used.value.map(({ part }): LineSeries => {
      pieces.forEach((p, i) => (below[i] += p[part]))
      return { kind: 'line', points: line(), colour: 'transparent', width: 0, stepped: true, fill: { to: 'line before', ink: INKS[part] } }
    }),
  ]
})
const at = ref<number | null>(null)
const told = computed(() => {
  const piece = at.value === null ? undefined : ledger.value?.pieces[at.value]
  if (!piece) return ''
  const parts = used.value
    .filter(({ part }) => piece[part] > 1e-9)
    .map(({ part, name }) => `${name} ${price(perHour(piece[part]), props.currency)}`)
  return `${clock(props.startIso, (at.value ?? 0) * (ledger.value?.pieceSeconds ?? 0))}: ${parts.join(', ')} an hour`
})
function point(event: PointerEvent): void {
  const n = ledger.value?.pieces.length ?? 0
  const { left } = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const piece = Math.floor(((event.clientX - left - PLOT.left) / (width.value - PLOT.left)) * n)
  at.value = piece >= 0 && piece < n ? piece : null
}
function walk(by: number): void {
  const n = ledger.value?.pieces.length ?? 0
  at.value = Math.min(n - 1, Math.max(0, (at.value ?? -1) + by))
}
const classes = computed(() => props.rows.find((r) => r.service === props.shown)?.money.classes.filter((c) => c.share > 0) ?? [])
const shownTotal = computed(() => bars.value.find((b) => b.name === props.shown)?.total ?? 0)
</script>

<template>
  <div ref="box">
    <div class="relative" :style="{ height: `${barRows * ROW}px` }">
      <div class="absolute top-0" :style="{ left: `${PLOT.left}px` }">
        <ChartPicture
          :x="bareAxis(months)"
          :y="barAxis"
          :series="barSeries"
          :width="Math.max(1, width - PLOT.left - PLOT.right)"
          :height="barRows * ROW" />
      </div>
      <table class="absolute top-0 w-full text-[0.9rem]">
        <caption class="sr-only">Where a month’s money goes, {{ currency }} a month</caption>
        <tbody>
          <tr v-for="b in bars" :key="b.name" :style="{ height: `${ROW}px` }">
            <th scope="row" class="p-0 text-left" :class="b.name === shown ? 'font-semibold' : 'font-normal'">
              {{ b.name }}
            </th>
            <td class="p-0">
              <span class="sr-only">{{ b.parts.map((p) => `${p.name} ${price(p.amount, currency)}`).join(', ') }}</span>
            </td>
            <td class="number p-0 text-right whitespace-nowrap">
              {{ price(b.total, currency) }}
            </td>
          </tr>
          <tr v-if="saved > 0" :style="{ height: `${ROW}px` }">
            <th scope="row" class="p-0 text-left font-normal">shared places</th>
            <td class="p-0">
              <span class="sr-only">saved by committing together to {{ shared.map((s) => s.machine).join(', ') }}</span>
            </td>
            <td class="number p-0 text-right whitespace-nowrap">−{{ price(saved, currency) }} </td>
          </tr>
          <tr v-if="fixedTotal > 0" :style="{ height: `${ROW}px` }">
            <th scope="row" class="p-0 text-left font-normal">beside them</th>
            <td class="p-0">
              <span class="sr-only">{{ fixed.map((f) => f.name).join(', ') }}</span>
            </td>
            <td class="number p-0 text-right whitespace-nowrap">
              {{ price(fixedTotal, currency) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <ul class="mt-1 flex flex-wrap gap-x-5 text-[0.86rem]">
      <li v-for="p in used" :key="p.part" class="flex items-center gap-1.5">
        <Swatch :ink="INKS[p.part]" /><span
          >{{ p.name
          }}<template v-for="q in bars.find((b) => b.name === shown)?.parts.filter((x) => x.part === p.part) ?? []" :key="q.part"
            >{{ ' ' }}{{ price(q.amount, currency) }} <span class="text-faded">{{ percent(q.amount / shownTotal) }}</span></template
          ></span
        >
      </li>
    </ul>
    <ChartPicture
      v-if="ledger"
      :x="timeAxis"
      :y="moneyAxis"
      :series="areas"
      :width="width"
      :height="HEIGHT + 20"
      class="mt-2"
      tabindex="0"
      role="group"
      :aria-label="`Money of ${shown} an hour through time; arrow keys walk through it`"
      @pointermove="point"
      @pointerleave="at = null"
      @keydown.right.prevent="walk($event.ctrlKey ? 24 : 1)"
      @keydown.left.prevent="walk($event.ctrlKey ? -24 : -1)">
      <p class="chart-word" :style="{ left: 0, top: 0 }">
        {{ shown }},<br />{{ currency }} an hour<br />up to {{ perHour(top).toFixed(2) }}
      </p>
      <span
        v-if="at !== null"
        class="pointer-events-none absolute top-0 border border-ink"
        :style="{
          left: `${time(at * ledger.pieceSeconds)}px`,
          width: `${Math.max(2, time(ledger.pieceSeconds) - time(0))}px`,
          height: `${HEIGHT}px`,
        }" />
    </ChartPicture>
    <p class="min-h-[1.4em] text-[0.86rem]" aria-live="polite">
      <template v-if="told">{{ told }}</template><span v-else class="text-faded"
        >Of the first draw of the load. By the time its requests are served{{ classes.length > 1 ? '' : ', all of it' }}:
        {{ classes.map((c) => `${c.name} ${price(c.share * shownTotal, currency)}`).join(', ') }}.</span
      >
    </p>
  </div>
</template>
