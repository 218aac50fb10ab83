import {
  BadInput, configured, duration, Load, misfitSentence, percent, perRequestCsv, price, simulateConfigured, threeDigits,
  type ClassSummary, type Plan, type SimulatedService, CORE_VERSION,
} from '@sandclock/core'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { readInput } from '../input.ts'
import { note } from '../progress.ts'
import { table } from '../table.ts'
import { writePieces } from '../writePieces.ts'
import { targetsText } from './recommend.ts'

interface Options {
  json?: boolean
  requests?: string
  perRequest?: string
}

export async function simulateCommand(planFile: string, options: Options): Promise<ExitStatus> {
  const { plan, log } = await readInput(planFile, options.requests)
  const load = new Load(plan, log)
  const results = simulateAll(plan, load)
  process.stdout.write(options.json ? jsonText(plan, results) : `${results.map((r) => serviceText(plan, r)).join('\n\n')}\n`)
  if (options.perRequest !== undefined) {
    await writePieces(options.perRequest, perRequestCsv(plan, load.all(0), new Map(results.map((r) => [r.service, r.record]))))
    note(`wrote ${options.perRequest}`)
  }
  return results.every((r) => r.meets) ? MET : NOT_MET
}

/** @throws BadInput when no service states a configuration, or one does not fit */
function simulateAll(plan: Plan, load: Load): SimulatedService[] {
  const out = plan.services.flatMap((service, i) => {
    const { configuration } = service
    if (!configuration) return []
    const ready = configured(plan, service, configuration)
    if (!ready.ok) {
      throw new BadInput('A stated configuration can not run.', [{ path: `services[${i}].configuration`, rule: `does not fit: ${misfitSentence(ready.misfit)}` }])
    }
    note(`simulating ${service.name}`)
    return [simulateConfigured(plan, service, configuration, load, ready)]
  })
  if (out.length > 0) return out
  throw new BadInput('This plan states no configuration to simulate.', [
    { path: 'services[0].configuration', rule: 'is missing; state one, or let "sandclock recommend" find one' },
  ])
}

function jsonText(plan: Plan, results: readonly SimulatedService[]): string {
  const services = results.map(({ record: _, ...rest }) => rest)
  return `${JSON.stringify({ format: 'sand-clock-simulation', version: 1, coreVersion: CORE_VERSION, plan, services }, null, 2)}\n`
}

function serviceText(plan: Plan, r: SimulatedService): string {
  const { configuration: c, money } = r
  const what = c.profile ? `${c.replicas} replicas with a ${r.profileSource} profile` : `${r.machines} × ${c.machine}, ${c.variant}, ${c.replicas} replicas`
  const cost = money === null ? 'no price stated' : `${price(money.perMonth, plan.currency)} a month, ${price(money.perThousandRequests, plan.currency)} per 1 000 requests`
  return [`${r.service.toUpperCase()}: ${what}, ${c.sequences} side by side; ${cost}`, countsTable(r.classes), spreadsTable(r.classes), targetsText(r)].join('\n')
}

function countsTable(classes: readonly ClassSummary[]): string {
  return table(
    ['class', 'arrivals', 'finished', 'rejected', 'abandoned', 'unfinished', 'lost'],
    classes.map(({ className, counts: c }) => [
      className, ...[c.arrivals, c.finished, c.rejected, c.abandoned, c.unfinished].map(String), percent(c.arrivals === 0 ? 0 : (c.rejected + c.abandoned + c.failed) / c.arrivals),
    ]),
  )
}

function spreadsTable(classes: readonly ClassSummary[]): string {
  const rows = classes.flatMap(({ className, spreads }) =>
    (['wait', 'ttft', 'tpot', 'latency'] as const)
      .filter((m) => spreads[m].count > 0)
      .map((m) => [className, m, ...(['mean', 'p50', 'p90', 'p95', 'p99', 'max'] as const).map((k) => duration(spreads[m][k])), threeDigits(spreads[m].count)]),
  )
  return table(['class', 'measure', 'mean', 'p50', 'p90', 'p95', 'p99', 'max', 'requests'], rows)
}
