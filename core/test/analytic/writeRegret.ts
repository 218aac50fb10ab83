import { readFileSync, writeFileSync } from 'node:fs'
import { recommend } from '../../src/answer/recommend.ts'
import { purchaseSuffix } from '../../src/explain/purchaseWords.ts'
import { settingWords } from '../../src/explain/waysWords.ts'
import { checkPlan, readPlan } from '../../src/plan/read.ts'
import type { Plan } from '../../src/plan/schema.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { driveHere } from '../../src/search/drive.ts'
import { Load } from '../../src/search/load.ts'
import { grouped } from '../../src/units/number.ts'
import { boughtPlan, livingPlan, settingsPlan, smallPlan, variedPlan } from '../smallPlan.ts'
import { tryEverything } from '../tryEverything.ts'

/** Random plans of each kind whose every option is tried. */
const EACH = 20

interface Row {
  plan: string
  options: number
  /** until the cheapest was proved (null: nothing holds), and until the next best and the load that it bears were known too */
  provedSeconds: number | null
  seconds: number
  simulations: number
  winner: string
  everything: { simulations: number; seconds: number; regret: number } | null
}

function timed<T>(work: () => T): { value: T; seconds: number } {
  const from = performance.now()
  const value = work()
  return { value, seconds: (performance.now() - from) / 1000 }
}

function rowOf(name: string, plan: Plan, exhaustive: boolean): Row {
  const from = performance.now()
  let early: number | undefined
  const { value: answer, seconds } = timed(() => {
    const load = new Load(plan)
    return driveHere(recommend(plan, load), load, (p) => {
      if (p.answer) early ??= (performance.now() - from) / 1000
    })
  })
  const chosen = answer.services.map((s) => s.chosen)
  const winner = chosen
    .map((c) =>
      c
        ? `${c.policy ? 'up to ' : ''}${c.machines} × ${c.machine}${purchaseSuffix(c.purchase)}, ${c.variant}${c.policy ? `, ${c.policy}` : ''}${c.setting ? `, ${settingWords(c.setting)}` : ''}`
        : 'nothing holds',
    )
    .join('; ')
  // Where nothing is left to run once it is proved, that is the end.
  const provedSeconds = chosen.some((c) => c) ? (early ?? seconds) : null
  const row = {
    plan: name,
    options: answer.services.reduce((n, s) => n + s.candidates, 0),
    provedSeconds,
    seconds,
    simulations: answer.services.reduce((n, s) => n + s.simulations, 0),
    winner,
  }
  if (!exhaustive) return { ...row, everything: null }
  const all = timed(() => tryEverything(plan))
  const cheapest = Math.min(Infinity, ...all.value.feasible.map((f) => f.perHour))
  const found = chosen[0]?.money.perHour ?? Infinity
  return {
    ...row,
    everything: { simulations: all.value.simulations, seconds: all.seconds, regret: found === cheapest ? 0 : found - cheapest },
  }
}

function line({ plan, options, provedSeconds, seconds, simulations, winner, everything }: Row): string {
  const all = everything
    ? `${grouped(everything.simulations, 0)} | ${everything.seconds.toFixed(1)} | ${everything.regret === 0 ? '0' : everything.regret.toFixed(4)}`
    : '– | – | not tried'
  return `| ${plan} | ${grouped(options, 0)} | ${provedSeconds === null ? '–' : provedSeconds.toFixed(1)} | ${seconds.toFixed(1)} | ${grouped(simulations, 0)} | ${winner} | ${all} |`
}

/** The demo with more sequence limits and policies: a space of tens of thousands. */
function large(plan: Plan): Plan {
  const [talk] = plan.services
  const [follow, blind] = talk.policies ?? []
  const wider = {
    ...talk,
    search: { ...talk.search, sequences: [8, 12, 16, 20, 24, 32, 40, 48, 56, 64, 72, 80, 96, 128] },
    policies: [
      follow,
      blind,
      ...[6, 20].map((target) => ({ ...follow, name: `aims at ${target}`, metrics: [{ metric: 'in-flight' as const, target }] })),
    ],
  }
  return checkPlan({ ...plan, classes: [plan.classes[0]], services: [wider] })
}

/** The pilot talk of the demo with other routings and another source of weights tried. */
function otherwise(plan: Plan): Plan {
  const [talk] = plan.services
  return checkPlan({
    ...plan,
    classes: [plan.classes[0]],
    services: [
      { ...talk, search: { ...talk.search, sequences: [16, 32, 64], routings: ['two-choice', 'shared-queue'], weightsFrom: ['image'] } },
    ],
  })
}

const REGIONS = 38

/** The pilot talk of the demo with every offer in many regions, each dearer than the one before. */
function regions(plan: Plan): Plan {
  const [talk] = plan.services
  const everywhere = <T extends { machine?: string | undefined }>(list: readonly T[] | undefined) =>
    list?.flatMap((e) => Array.from({ length: REGIONS }, (_, k) => ({ ...e, machine: `${e.machine} ${k + 1}` })))
  const models = plan.models
    .filter((m) => m.name === talk.model)
    .map((m) => ({
      ...m,
      variants: m.variants.map((v) => ({ ...v, profiles: everywhere(v.profiles), measurements: everywhere(v.measurements) })),
    }))
  const machines = Array.from({ length: REGIONS }, (_, k) =>
    plan.machines.map((m) => ({
      ...m,
      name: `${m.name} ${k + 1}`,
      pricePerHour: m.pricePerHour! * (1 + k / 50),
      ...(m.committedPerHour !== undefined && { committedPerHour: m.committedPerHour * (1 + k / 50) }),
    })),
  ).flat()
  return checkPlan({
    ...plan,
    models,
    machines,
    classes: [plan.classes[0]],
    services: [{ ...talk, search: { ...talk.search, sequences: [8, 16, 24, 32, 48, 64] } }],
  })
}

const random = new RandomStream(2027, 'regret')
const kinds: [string, (random: RandomStream, number: number) => Plan][] = [
  ['small', smallPlan],
  ['varied', variedPlan],
  ['with a life', livingPlan],
  ['paid in every way', boughtPlan],
  ['in other settings', settingsPlan],
]
const rows: Row[] = []
for (const [name, make] of kinds)
  for (let n = 0; n < EACH; n++) rows.push(rowOf(`${name} ${n + 1}`, checkPlan(make(random, rows.length)), true))
const demo = readPlan(readFileSync('examples/skerry-sound.json', 'utf8'))
rows.push(
  rowOf('demo, three services', demo, false),
  rowOf('demo, more policies and limits', large(demo), false),
  rowOf('demo, six settings', otherwise(demo), false),
  rowOf('demo, 38 regions', regions(demo), false),
)
const worst = rows.reduce((most, r) => Math.max(most, r.everything?.regret ?? 0), 0)
const all = rows.filter((r) => r.everything)
const sum = (value: (r: Row) => number) => all.reduce((total, r) => total + value(r), 0)
writeFileSync(
  'docs/regret.md',
  `# The search against trying everything

Written by \`npm run regret\`, on one core. *Regret* is what the search's winner costs more, per hour, than the cheapest that trying every option with every number of machines on the same draws finds. Over ${all.length} random plans the largest is **${worst}**, with ${grouped(
    sum((r) => r.simulations),
    0,
  )} simulations
in place of ${grouped(
    sum((r) => r.everything?.simulations ?? 0),
    0,
  )}. *Proved* is after how many seconds nothing cheaper could hold; all of them include the next best and the load that the answer bears.

| plan | options | proved | seconds | simulations | winner | trying everything: simulations | seconds | regret |
|---|--:|--:|--:|--:|---|--:|--:|--:|
${rows.map(line).join('\n')}
`,
)
process.stdout.write(
  `largest regret ${worst} over ${all.length} plans; ${rows
    .slice(-4)
    .map((r) => `${r.plan}: ${r.options} options in ${r.seconds.toFixed(1)} s`)
    .join('; ')}\n`,
)
