import { LEDGER_PARTS } from '../cost/ledger.ts'
import { isByTokens } from '../cost/purchase.ts'
import { HOURS_PER_MONTH } from '../cost/money.ts'
import { dayAndHour, weekPlace } from '../demand/calendar.ts'
import { histogram } from '../demand/loadPicture.ts'
import { neededTimeout, type LifeRecord } from '../life/startRules.ts'
import { fleetPicture, valueAt } from '../measure/fleetPicture.ts'
import { finishedValues } from '../measure/measures.ts'
import type { Observed } from '../measure/runSummary.ts'
import { countedSelection } from '../measure/summary.ts'
import { obtainable } from '../plan/machineSchema.ts'
import type { Plan } from '../plan/schema.ts'
import { startRulesOf } from '../scaling/ofPlan.ts'
import type { Candidate } from '../candidate/candidate.ts'
import { runLedger } from '../run/runLedger.ts'
import { compareQuality, wilson } from '../service/quality.ts'
import { duration } from '../units/duration.ts'
import { grouped, percent } from '../units/number.ts'
import { price } from '../units/price.ts'
import type { DetailTable } from './detailTable.ts'
import { preparationOf, preparationTable } from './preparation.ts'
import { startBudget, STARTS } from './startBudget.ts'

/** What is run, and what was seen of it. */
export interface Seen {
  candidate: Candidate
  groups: number
  observed: Observed
  /** what it costs an hour, and how many groups are committed to */
  perHour: number
  committedGroups: number
}

/** Everything that the application shows of one configuration beside its targets, as tables. */
export function detailTables(plan: Plan, seen: Seen): DetailTable[] {
  return [
    ...preparationTables(plan, seen),
    ...(isByTokens(seen.candidate.purchase) ? [] : [startTable(seen), supplyTable(seen)]),
    ...dayTable(plan, seen),
    ledgerTable(plan, seen),
    ...qualityTable(plan, seen),
    ...latencyTables(plan, seen),
  ]
}

function preparationTables(plan: Plan, { candidate }: Seen): DetailTable[] {
  const found = preparationOf(plan, candidate)
  return found ? [preparationTable(found, plan.currency)] : []
}

const STAGE_WORDS = { machine: 'machine', image: 'image', weights: 'weights', load: 'load', warmup: 'warm-up' } as const

function startTable({ candidate }: Seen): DetailTable {
  const { service, model, variant, machine } = candidate
  const rules = startRulesOf(service, model, variant, machine)
  const lines = startBudget(service, candidate, 1).filter((l) => l.weightsFrom === rules.weightsFrom)
  const rows = lines.map((l) => [`from ${STARTS[l.from]}`, ...l.stages.map((s) => duration(s.seconds)), duration(l.readySeconds)])
  const limit = rules.timeoutSeconds === Infinity ? 'no time-out' : `time-out ${duration(rules.timeoutSeconds)}`
  return {
    title: `start-up (${limit}; it takes ${duration(neededTimeout(rules))} once a machine is there)`,
    header: ['', ...Object.values(STAGE_WORDS), 'ready'],
    rows,
  }
}

function supplyTable({ candidate, groups }: Seen): DetailTable {
  const { machine, group, limitedBy, obtainableGroups } = candidate
  return {
    title: 'what can be had',
    header: ['machine', 'wanted at most', 'stock', 'quota', 'attempts that succeed', 'placeable replicas', 'limited by'],
    rows: [
      [
        machine.name,
        String(groups * group.machines),
        String(machine.stock),
        machine.quota === undefined ? 'none' : String(machine.quota),
        percent(machine.availability ?? 1),
        String(Math.min(obtainableGroups, obtainable(machine)) * group.replicas),
        limitedBy,
      ],
    ],
  }
}

const DAY_HOURS = 24
/** Points of an hour at which a fleet is looked at. */
const LOOKS = 12

/** By the clock, over all days: the most that was wanted, the least and the most that was ready, the most that found no room. */
function dayTable(plan: Plan, { observed: { life }, candidate }: Seen): DetailTable[] {
  if (!life) return []
  const { seconds, start } = plan.horizon
  const hours = hoursOf(life, seconds, start)
  const placeable = String(candidate.obtainableGroups * candidate.group.replicas)
  const rows = hours.flatMap((h, hour) =>
    h
      ? [
          [
            `${String(hour).padStart(2, '0')}:00`,
            String(h.wanted),
            h.least === h.most ? String(h.most) : `${h.least} to ${h.most}`,
            placeable,
            String(h.unplaced),
          ],
        ]
      : [],
  )
  return [{ title: 'replicas over the day', header: ['hour', 'wanted at most', 'ready', 'placeable', 'without room at most'], rows }]
}

interface HourOfDay {
  wanted: number
  least: number
  most: number
  unplaced: number
}

function hoursOf(life: LifeRecord, endSeconds: number, start: string): (HourOfDay | undefined)[] {
  const picture = fleetPicture(life, endSeconds)
  const place = weekPlace(start)
  const hours: (HourOfDay | undefined)[] = new Array<HourOfDay | undefined>(DAY_HOURS).fill(undefined)
  for (let t = 0; t < endSeconds; t += 3600 / LOOKS) {
    const { hour } = dayAndHour(place, t)
    const ready = valueAt(picture.ready, t)
    const h = (hours[hour] ??= { wanted: 0, least: Infinity, most: 0, unplaced: 0 })
    h.wanted = Math.max(h.wanted, valueAt(picture.wanted, t))
    h.least = Math.min(h.least, ready)
    h.most = Math.max(h.most, ready)
    h.unplaced = Math.max(h.unplaced, valueAt(picture.unplaced, t))
  }
  return hours
}

const PART_WORDS = {
  serving: 'serving',
  idle: 'ready and idle',
  starting: 'starting up',
  leaving: 'empty until given back',
  rounding: 'billing steps',
  unused: 'committed, not used',
  storage: 'disks',
  transfer: 'transfer of starts',
} as const

/** Where a month's money goes, of the first draw. */
function ledgerTable(plan: Plan, seen: Seen): DetailTable {
  const ledger = runLedger(plan, seen, seen.observed, seen)
  const month = (HOURS_PER_MONTH * 3600) / plan.horizon.seconds
  const parts = LEDGER_PARTS.filter((part) => Math.abs(ledger[part]) > 1e-9)
  return {
    title: 'where a month’s money goes (first draw)',
    header: ['', 'a month', 'share'],
    rows: [
      ...parts.map((part) => [PART_WORDS[part], price(ledger[part] * month, plan.currency), percent(ledger[part] / ledger.total)]),
      ['all', price(ledger.total * month, plan.currency), ''],
      ...preparedRows(plan, seen),
    ],
  }
}

/** What is paid before the first request, and not each month. */
function preparedRows(plan: Plan, { candidate }: Seen): string[][] {
  const found = preparationOf(plan, candidate)
  if (!found) return []
  return [
    ['at the very first go, once', price(found.firstGo.cost, plan.currency), ''],
    ['at each change of the model', price(found.newVersion.cost, plan.currency), ''],
  ]
}

const VERDICTS = { better: 'worse than this', worse: 'better than this', undecided: 'undecided', unknown: 'unknown' } as const

/** The scores of the model's variants beside the one that is run. */
function qualityTable(_: Plan, { candidate: { model, variant } }: Seen): DetailTable[] {
  const judged = model.variants.filter((v) => v.quality !== undefined)
  if (judged.length < 2 || !variant.quality) return []
  const rows = judged.map((v) => {
    const { score = 0, samples = 0 } = v.quality ?? {}
    const interval = wilson(score, samples)
    return [
      v.name,
      percent(score),
      `${percent(interval.low)} to ${percent(interval.high)}`,
      String(samples),
      v.name === variant.name ? 'this' : VERDICTS[compareQuality(variant, v).verdict],
    ]
  })
  return [{ title: 'quality of the variants', header: ['variant', 'score', '95 % interval', 'samples', 'difference'], rows }]
}

const BAR = 40

/** Latencies of each class as bars on a scale of equal ratios. */
function latencyTables(plan: Plan, { candidate: { service }, observed: { record } }: Seen): DetailTable[] {
  return plan.classes.flatMap((c, i) => {
    if (c.service !== service.name) return []
    const values = finishedValues(record, 'latency', countedSelection(plan, i))
    if (values.length === 0) return []
    const { edges, shares } = histogram(Float64Array.from(values, (s) => Math.max(1, Math.round(s * 1000))))
    const top = Math.max(...shares)
    const rows = shares.map((share, b) => [
      `${duration(edges[b] / 1000)} to ${duration(edges[b + 1] / 1000)}`,
      grouped(share * values.length, 0),
      percent(share),
      '▇'.repeat(Math.round((share / top) * BAR)),
    ])
    return [{ title: `latency of ${c.name}`, header: ['', 'requests', 'share', ''], rows }]
  })
}
