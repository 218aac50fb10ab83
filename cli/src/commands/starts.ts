import {
  cellSentence,
  startingCandidates,
  measuredStages,
  measuredStartRemarks,
  measuredStartsTable,
  readStartLog,
  startRulesOf,
  withMeasuredStarts,
  type Candidate,
  type Plan,
  type Service,
} from '@sandclock/core'
import { MET, type ExitStatus } from '../exitStatus.ts'
import { readInput, textFile } from '../input.ts'
import { note } from '../progress.ts'
import { refusing } from '../refusing.ts'
import { table } from '../table.ts'
import { writeJson } from '../writePieces.ts'

const refused = refusing('These starts can not be taken in.')

/** Stages of start-ups that were timed, beside those of a plan; and the plan with them. */
export async function startsCommand(
  logFile: string,
  planFile: string,
  { service: name, variant, out }: { service?: string; variant?: string; out?: string },
): Promise<ExitStatus> {
  const { rows, problems } = readStartLog(await textFile(logFile))
  for (const p of problems) note(`${logFile}: ${cellSentence(p)}`)
  const { plan } = await readInput(planFile)
  const service = serviceOf(plan, name)
  const { start } = service
  if (!start) throw refused('--service', 'has no start-up by stages (services[].start): state one, and its sizes', service.name)
  const at = placeOf(plan, service, variant)
  const stages = measuredStages(rows)
  const { header, rows: lines } = measuredStartsTable(stages, at)
  const { weightBytes } = startRulesOf(service, at.model, at.variant, at.machine)
  process.stdout.write(
    `${[`${service.name}, with the weights of ${at.variant.name}`, table(header, lines), ...measuredStartRemarks(stages, at)].join('\n')}\n`,
  )
  if (out !== undefined) {
    const next = { ...service, start: withMeasuredStarts(start, stages, weightBytes) }
    await writeJson(out, { ...plan, services: plan.services.map((s) => (s === service ? next : s)) })
  }
  return MET
}

function serviceOf(plan: Plan, name: string | undefined): Service {
  const found = name === undefined ? (plan.services.find((s) => s.start) ?? plan.services[0]) : plan.services.find((s) => s.name === name)
  if (!found) throw refused('--service', `is no service of the plan: ${plan.services.map((s) => s.name).join(', ')}`, name)
  return found
}

/** Where its start-up is looked at: the first place that fits, in the variant that is named. */
function placeOf(plan: Plan, service: Service, variant: string | undefined): Candidate {
  const variants = new Set<string>()
  for (const candidate of startingCandidates(plan, service)) {
    const { name } = candidate.variant
    if (variant === undefined || name === variant) return candidate
    variants.add(name)
  }
  throw refused('--variant', variants.size > 0 ? `must be one that fits: ${[...variants].join(', ')}` : 'fits nowhere in this plan', variant)
}
