<script setup lang="ts">
import { clock, HOURS_PER_MONTH, percent, price, type LedgerParts } from '@sandclock/core'
import { computed, ref, useTemplateRef } from 'vue'
import { useWidth } from '../../composables/useWidth.ts'
import { timeTicks } from '../../composables/timeTicks.ts'
import type { MoneyView } from '../../worker/viewWorker.ts'

/**
 * Where a month's money goes: a bar for every service and for what is paid beside them, all to one scale; below, one
 * service through its horizon. Arrow keys walk through time.
 */
const props = defineProps<{ rows: readonly { service: string; money: MoneyView }[]; fixed: readonly { name: string; perMonth: number }[]; shared: readonly { machine: string; savedPerMonth: number }[]; shown: string; horizonSeconds: number; startIso: string; currency: string }>()

const PARTS: { part: keyof LedgerParts; name: string }[] = [
  { part: 'serving', name: 'serving' }, { part: 'idle', name: 'ready and idle' }, { part: 'starting', name: 'starting up' }, { part: 'leaving', name: 'empty until given back' },
  { part: 'rounding', name: 'billing steps' }, { part: 'unused', name: 'committed, not used' }, { part: 'storage', name: 'disks' }, { part: 'transfer', name: 'transfer of starts' },
]
const box = useTemplateRef<HTMLElement>('box')
const width = useWidth(box)
const LEFT = 118
const HEIGHT = 104

const month = (amount: number) => (amount / (props.horizonSeconds / 3600)) * HOURS_PER_MONTH
const fixedTotal = computed(() => props.fixed.reduce((sum, f) => sum + f.perMonth, 0))
const saved = computed(() => props.shared.reduce((sum, s) => sum + s.savedPerMonth, 0))
const most = computed(() => Math.max(fixedTotal.value, ...props.rows.map((r) => month(r.money.ledger.total))))
const bars = computed(() => props.rows.map(({ service, money: { ledger } }) => ({
  name: service, total: month(ledger.total), parts: PARTS.flatMap(({ part, name }) => (ledger[part] > ledger.total * 5e-4 ? [{ name, part, share: month(ledger[part]) / most.value, amount: month(ledger[part]) }] : [])),
})))
const used = computed(() => PARTS.filter(({ part }) => bars.value.some((b) => b.parts.some((p) => p.part === part))))

const ledger = computed(() => props.rows.find((r) => r.service === props.shown)?.money.ledger)
const top = computed(() => Math.max(1e-9, ...(ledger.value?.pieces ?? []).map((p) => PARTS.reduce((sum, { part }) => sum + p[part], 0))))
const perHour = (amount: number) => (amount * 3600) / (ledger.value?.pieceSeconds ?? 3600)
const x = (piece: number) => LEFT + (piece * (width.value - LEFT)) / (ledger.value?.pieces.length ?? 1)
const ticks = computed(() => timeTicks(props.startIso, 0, props.horizonSeconds))

/** One area for each part, each upon the ones before it. */
const areas = computed(() => {
  const { pieces } = ledger.value ?? { pieces: [] }
  const below = pieces.map(() => 0)
  return used.value.map(({ part, name }) => {
    let upper = ''
    let lower = ''
    pieces.forEach((p, i) => {
      const from = HEIGHT - (below[i] / top.value) * HEIGHT
      below[i] += p[part]
      const to = HEIGHT - (below[i] / top.value) * HEIGHT
      upper += `${i === 0 ? 'M' : 'L'}${x(i).toFixed(1)},${to.toFixed(1)}H${x(i + 1).toFixed(1)}`
      lower = `L${x(i + 1).toFixed(1)},${from.toFixed(1)}H${x(i).toFixed(1)}${lower}`
    })
    return { part, name, d: `${upper}${lower}Z` }
  })
})
const at = ref<number | null>(null)
const told = computed(() => {
  const piece = at.value === null ? undefined : ledger.value?.pieces[at.value]
  if (!piece) return ''
  const parts = used.value.filter(({ part }) => piece[part] > 1e-9).map(({ part, name }) => `${name} ${price(perHour(piece[part]), props.currency)}`)
  return `${clock(props.startIso, (at.value ?? 0) * (ledger.value?.pieceSeconds ?? 0))}: ${parts.join(', ')} an hour`
})
function point(event: PointerEvent): void {
  const n = ledger.value?.pieces.length ?? 0
  const piece = Math.floor(((event.offsetX - LEFT) / (width.value - LEFT)) * n)
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
    <svg width="0" height="0" class="absolute" aria-hidden="true"><defs>
      <pattern id="ledger-starting" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="2" height="6" fill="var(--faded)" /></pattern>
      <pattern id="ledger-leaving" width="5" height="5" patternUnits="userSpaceOnUse"><rect width="2" height="5" fill="var(--moss)" /></pattern>
      <pattern id="ledger-rounding" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)"><rect width="2" height="5" fill="var(--rust)" /></pattern>
      <pattern id="ledger-unused" width="5" height="5" patternUnits="userSpaceOnUse"><rect width="5" height="2" fill="var(--rust)" /></pattern>
      <pattern id="ledger-storage" width="4" height="4" patternUnits="userSpaceOnUse"><circle cx="2" cy="2" r="1" fill="var(--ink)" /></pattern>
      <pattern id="ledger-transfer" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="2" height="5" fill="var(--water)" /></pattern>
    </defs></svg>
    <table class="w-full text-[0.9rem]">
      <caption class="sr-only">Where a month’s money goes, {{ currency }} a month</caption>
      <tbody>
        <tr v-for="b in bars" :key="b.name">
          <th scope="row" class="w-[118px] py-[3px] pr-2 text-left" :class="b.name === shown ? 'font-semibold' : 'font-normal'">{{ b.name }}</th>
          <td>
            <svg :width="Math.max(0, width - 118 - 110)" height="15" class="block" aria-hidden="true"><template v-for="(p, i) in b.parts" :key="p.part"><rect :x="b.parts.slice(0, i).reduce((s, q) => s + q.share, 0) * (width - 228)" y="0" :width="Math.max(0.6, p.share * (width - 228))" height="15" :class="`ledger-${p.part}`" /></template></svg>
            <span class="sr-only">{{ b.parts.map((p) => `${p.name} ${price(p.amount, currency)}`).join(', ') }}</span>
          </td>
          <td class="number w-[110px] whitespace-nowrap text-right">{{ price(b.total, currency) }}</td>
        </tr>
        <tr v-if="saved > 0"><th scope="row" class="pr-2 text-left font-normal">shared places</th><td><svg :width="Math.max(0, width - 228)" height="15" class="block" aria-hidden="true"><rect x="0.5" y="0.5" :width="(saved / most) * (width - 228)" height="14" fill="none" stroke="var(--moss)" stroke-dasharray="3 2" /></svg><span class="sr-only">saved by committing together to {{ shared.map((s) => s.machine).join(', ') }}</span></td><td class="number whitespace-nowrap text-right">−{{ price(saved, currency) }}</td></tr>
        <tr v-if="fixedTotal > 0"><th scope="row" class="pr-2 text-left font-normal">beside them</th><td><svg :width="Math.max(0, width - 228)" height="15" class="block" aria-hidden="true"><rect :width="(fixedTotal / most) * (width - 228)" height="15" fill="none" stroke="var(--ink)" /></svg><span class="sr-only">{{ fixed.map((f) => f.name).join(', ') }}</span></td><td class="number whitespace-nowrap text-right">{{ price(fixedTotal, currency) }}</td></tr>
      </tbody>
    </table>
    <ul class="mt-1 flex flex-wrap gap-x-5 text-[0.86rem]">
      <li v-for="p in used" :key="p.part" class="flex items-center gap-1.5"><svg width="20" height="12" aria-hidden="true"><rect width="20" height="12" :class="`ledger-${p.part}`" /></svg><span>{{ p.name }}<template v-for="q in bars.find((b) => b.name === shown)?.parts.filter((x) => x.part === p.part) ?? []" :key="q.part">{{ ' ' }}{{ price(q.amount, currency) }} <span class="text-faded">{{ percent(q.amount / shownTotal) }}</span></template></span></li>
    </ul>
    <svg
      v-if="ledger" :width="width" :height="HEIGHT + 20" class="mt-2 block" tabindex="0" role="group" :aria-label="`Money of ${shown} an hour through time; arrow keys walk through it`"
      @pointermove="point" @pointerleave="at = null" @keydown.right.prevent="walk($event.ctrlKey ? 24 : 1)" @keydown.left.prevent="walk($event.ctrlKey ? -24 : -1)"
    >
      <text x="0" y="11" class="chart-axis">{{ shown }},</text><text x="0" y="26" class="chart-axis">{{ currency }} an hour</text><text x="0" y="41" class="chart-axis">up to {{ perHour(top).toFixed(2) }}</text>
      <path v-for="a in areas" :key="a.part" :d="a.d" :class="`ledger-${a.part}`" stroke="none" />
      <g v-for="t in ticks" :key="t.seconds"><line :x1="LEFT + (t.seconds / horizonSeconds) * (width - LEFT)" :x2="LEFT + (t.seconds / horizonSeconds) * (width - LEFT)" y1="0" :y2="HEIGHT + 4" stroke="var(--rule)" stroke-width="0.7" /><text :x="LEFT + (t.seconds / horizonSeconds) * (width - LEFT) + 3" :y="HEIGHT + 16" class="chart-axis">{{ t.label }}</text></g>
      <rect v-if="at !== null" :x="x(at)" y="0" :width="Math.max(1, x(at + 1) - x(at))" :height="HEIGHT" fill="none" stroke="var(--ink)" />
    </svg>
    <p class="min-h-[1.4em] text-[0.86rem]" aria-live="polite"><template v-if="told">{{ told }}</template><span v-else class="text-faded">Of the first draw of the load. By the time its requests are served{{ classes.length > 1 ? '' : ', all of it' }}: {{ classes.map((c) => `${c.name} ${price(c.share * shownTotal, currency)}`).join(', ') }}.</span></p>
  </div>
</template>

<style scoped>
/* Texture as well as colour, so that the parts can be told apart without it. */
.ledger-serving { fill: var(--water); }
.ledger-idle { fill: var(--sand-soft); }
.ledger-starting { fill: url(#ledger-starting); }
.ledger-leaving { fill: url(#ledger-leaving); }
.ledger-rounding { fill: url(#ledger-rounding); }
.ledger-unused { fill: url(#ledger-unused); }
.ledger-storage { fill: url(#ledger-storage); }
.ledger-transfer { fill: url(#ledger-transfer); }
</style>
