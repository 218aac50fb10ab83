import {
  BadInput,
  configured,
  driveElsewhere,
  isByTokens,
  likelyAsked,
  Load,
  recommend,
  refusalProblem,
  sideBySideWords,
  specOf,
  type Plan,
  type RunSpec,
  type Service,
} from '@sandclock/core'
import { serveStandIn } from '@sandclock/outside'
import { trialPool, usualThreads } from '@sandclock/threads'
import { MET, type ExitStatus } from '../exitStatus.ts'
import { readInput } from '../input.ts'
import { note, ProgressLine } from '../progress.ts'
import { refusing } from '../refusing.ts'
import { within } from '../within.ts'

interface StandInCommandOptions {
  service?: string
  port?: string
  speed?: string
  fail?: string
}

const refused = refusing('Nothing can stand in for this.')

/** Serves, in real time and to this machine alone, what the configuration of a plan would. Ends when it is told to. */
export async function standInCommand(planFile: string, options: StandInCommandOptions): Promise<ExitStatus> {
  const { plan } = await readInput(planFile, {})
  const service = serviceOf(plan, options.service)
  const speed = within(refused, '--speed', options.speed ?? '1', 'number', 0.01, 1000)
  const failShare = within(refused, '--fail', options.fail ?? '0', 'number', 0, 1)
  const port = within(refused, '--port', options.port ?? '0', 'count', 0, 65_535)
  const spec = await specToServe(plan, service)
  const { candidate } = spec
  if (isByTokens(candidate.purchase))
    throw refused('--service', `is served by ${candidate.machine.name}, which is sold by tokens: it stands there itself, and can be asked`)
  const { input, output } = likelyAsked(plan, service, {
    machine: candidate.machine.name,
    variant: candidate.variant.name,
    devices: candidate.devices,
    sequences: candidate.sequences,
  })
  const served = await serveStandIn({ plan, spec, speed, failShare }, { input, output }, port).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE') throw refused('--port', 'is taken by another program; choose another, or 0 for any', options.port)
    throw error
  })
  const where = `${candidate.machine.name}, ${candidate.variant.name}, ${sideBySideWords(candidate)}`
  process.stdout.write(
    `${service.name} on ${where} is at ${served.url}${speed === 1 ? '' : `, ${speed} times as fast`} (Ctrl+C stops it)\n`,
  )
  await new Promise<void>((resolve) => {
    process.once('SIGINT', resolve)
    process.once('SIGTERM', resolve)
  })
  await served.stop()
  return MET
}

function serviceOf({ services }: Plan, name: string | undefined): Service {
  const found = name === undefined ? services.at(services.length === 1 ? 0 : services.length) : services.find((s) => s.name === name)
  if (!found) throw refused('--service', `must say which: ${services.map((s) => s.name).join(', ')}`, name)
  return found
}

/** What the service states, or what is found for it. */
async function specToServe(plan: Plan, service: Service): Promise<RunSpec> {
  const { configuration } = service
  if (configuration && !service.search) {
    const ready = configured(plan, service, configuration)
    if (ready.ok) return ready.spec
    throw new BadInput('A stated configuration can not be had or run.', [
      refusalProblem(plan, plan.services.indexOf(service), configuration, ready.refusal),
    ])
  }
  note(`searching what serves ${service.name}`)
  const load = new Load(plan, undefined, SharedArrayBuffer)
  const pool = trialPool(plan, load, usualThreads())
  const line = new ProgressLine()
  try {
    const answer = await driveElsewhere(recommend(plan, load), pool, (p) => line.show(`${p.settled} of ${p.total} options settled`))
    const chosen = answer.services.find((s) => s.service === service.name)?.chosen
    const spec = chosen && specOf(plan, service.name, chosen, chosen.machines)
    if (!spec) throw refused('--service', 'has nothing that keeps its promises; state a configuration for it', service.name)
    return spec
  } finally {
    line.done()
    await pool.stop()
  }
}
