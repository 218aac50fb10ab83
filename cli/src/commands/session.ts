import {
  branchRows,
  clockSeconds,
  CORE_VERSION,
  Load,
  LOOKED_AT,
  planSwitchOff,
  session,
  sessionWords,
  switchOffWords,
  USUAL_LOAD,
  USUAL_SESSION,
  type Session,
  type SmallLoad,
} from '@sandclock/core'
import { MET, type ExitStatus } from '../exitStatus.ts'
import { readInput } from '../input.ts'
import { refusing } from '../refusing.ts'
import { table } from '../table.ts'
import { askedFrom, count, planOf, sentences, time, type OneOptions } from './oneAsked.ts'

const refused = refusing('This session can not be laid out.')

interface Options extends OneOptions {
  requests?: string
  rate?: string
  lasts?: string
  pause?: string
  begins?: string
  idle?: string
  until?: string
  worth?: string
  json?: boolean
}

/** Lays some use of one replica out, what each way of ending it costs, and when to switch off between calls. */
export async function sessionCommand(planFile: string | undefined, options: Options): Promise<ExitStatus> {
  const { plan, log } = planFile === undefined ? { plan: await planOf(options), log: undefined } : await readInput(planFile)
  const one = await askedFrom(plan, options)
  const found = session(plan, {
    one: { ...one, finds: options.finds === undefined && options.idleBefore === undefined ? 'nothing' : one.finds },
    requests: options.requests === undefined ? USUAL_SESSION.requests : count('requests', options.requests),
    ...loadOf(options),
    pauseSeconds: options.pause === undefined ? USUAL_SESSION.pauseSeconds : time('pause', options.pause),
    beginsAtSeconds: options.begins === undefined ? USUAL_SESSION.beginsAtSeconds : hour('begins', options.begins),
    untilSeconds: options.until === undefined ? USUAL_SESSION.untilSeconds : hour('until', options.until),
    idleSeconds: options.idle === undefined ? USUAL_SESSION.idleSeconds : time('idle', options.idle),
  })
  const off = planSwitchOff(plan, new Load(plan, log), one, found.perHour, worthOf(options.worth))
  process.stdout.write(
    options.json
      ? `${JSON.stringify({ format: 'sand-clock-session', version: 1, coreVersion: CORE_VERSION, session: found, switchOff: off }, null, 2)}\n`
      : `${sessionText(found)}\n\nWHEN TO SWITCH OFF\n${sentences(switchOffWords(off, plan.currency))}\n`,
  )
  return MET
}

/** A small load in place of requests by hand. */
function loadOf({ rate, lasts, requests, pause }: Options): { load?: SmallLoad } {
  if (rate === undefined && lasts === undefined) return {}
  if (requests !== undefined || pause !== undefined)
    throw refused('--rate', 'is a small load in place of requests by hand; leave --requests and --pause out')
  const perHour = Number(rate)
  if (rate === undefined || !(perHour > 0)) throw refused('--rate', 'must be requests an hour above 0', rate)
  return { load: { perHour, seconds: lasts === undefined ? USUAL_LOAD.seconds : time('lasts', lasts) } }
}

function hour(option: string, text: string): number {
  if (/^([01]?\d|2[0-3]):[0-5]\d$/.test(text)) return clockSeconds(text.padStart(5, '0'))
  throw refused(`--${option}`, 'must be an hour of the day such as 18:00', text)
}

function worthOf(text: string | undefined): number {
  const value = text === undefined ? 0 : Number(text)
  if (text?.trim() !== '' && value >= 0) return value
  throw refused('--worth', 'must be an amount of at least 0: what it is worth that one caller does not wait for a start-up', text)
}

function sessionText(found: Session): string {
  const { one } = found.asked
  return [
    `A SESSION WITH ${one.service}: ${one.machine}, ${one.variant}${one.devices > 1 ? ` on ${one.devices} devices` : ''}`,
    sentences(sessionWords(found)),
    '',
    table(['and then', ...LOOKED_AT.map((l) => l.words), 'left over'], branchRows(found)),
  ].join('\n')
}
