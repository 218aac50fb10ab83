import {
  bestTimeout,
  branchRows,
  clairvoyantCost,
  CORE_VERSION,
  clockSeconds,
  costOfTimeout,
  duration,
  fairTimeout,
  gapsBetween,
  Load,
  LOOKED_AT,
  oneRequest,
  price,
  session,
  sessionWords,
  type IdlePrices,
  type OneAsked,
  type Plan,
  type Session,
} from '@sandclock/core'
import { MET, type ExitStatus } from '../exitStatus.ts'
import { readInput } from '../input.ts'
import { table } from '../table.ts'
import { askedFrom, count, planOf, refused, time, type OneOptions } from './oneAsked.ts'

interface Options extends OneOptions {
  requests?: string
  pause?: string
  begins?: string
  idle?: string
  until?: string
  worth?: string
  json?: boolean
}

const USUAL = { requests: 12, pauseSeconds: 120, begins: '14:00', until: '18:00', idleSeconds: 1800 }

/** Lays some use of one replica out, what each way of ending it costs, and when to switch off between calls. */
export async function sessionCommand(planFile: string | undefined, options: Options): Promise<ExitStatus> {
  const plan = planFile === undefined ? await planOf(options) : (await readInput(planFile)).plan
  const one = await askedFrom(plan, options)
  const found = session(plan, {
    one: { ...one, finds: options.finds === undefined && options.idleBefore === undefined ? 'nothing' : one.finds },
    requests: options.requests === undefined ? USUAL.requests : count('requests', options.requests),
    pauseSeconds: options.pause === undefined ? USUAL.pauseSeconds : time('pause', options.pause),
    beginsAtSeconds: hour('begins', options.begins ?? USUAL.begins),
    untilSeconds: hour('until', options.until ?? USUAL.until),
    idleSeconds: options.idle === undefined ? USUAL.idleSeconds : time('idle', options.idle),
  })
  const off = switchedOff(plan, one, found, worthOf(options.worth))
  process.stdout.write(
    options.json
      ? `${JSON.stringify({ format: 'sand-clock-session', version: 1, coreVersion: CORE_VERSION, session: found, switchOff: off }, null, 2)}\n`
      : `${sessionText(found)}\n\n${off.words.join('\n')}\n`,
  )
  return MET
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

/** When to switch off: never more than twice the best, and the best for the gaps of the plan's own calls on one draw. */
function switchedOff(plan: Plan, one: OneAsked, { perHour, branches }: Session, worth: number) {
  const stopped = branches.find((b) => b.ending === 'stopped')?.perMonth ?? 0
  const startUp = oneRequest(plan, { ...one, finds: 'nothing' }).startUpSeconds
  const prices: IdlePrices = { keptPerSecond: perHour / 3600, awayPerSecond: 0, comeBack: (startUp * perHour) / 3600 + worth }
  const service = plan.services.find((s) => s.name === one.service)
  const requests = service && new Load(plan).of(service, 0)
  const gaps = requests ? gapsBetween(requests.at, oneRequest(plan, { ...one, finds: 'warm' }).endSeconds) : []
  const [fair, best, known] = [costOfTimeout(gaps, prices, fairTimeout(prices)), bestTimeout(gaps, prices), clairvoyantCost(gaps, prices)]
  const money = (amount: number) => price(amount, plan.currency)
  const after = (seconds: number) => (seconds === Infinity ? 'never' : `after ${duration(seconds)}`)
  const words = [
    'WHEN TO SWITCH OFF',
    `Switched off ${after(fairTimeout(prices))} without a call it never costs more than twice what somebody pays who knows when the next call comes: so long a wait costs what coming back does, ${money(prices.comeBack)}.`,
    ...(gaps.length > 0
      ? [
          `Over the ${gaps.length} gaps of the plan's own calls, on one draw and with one replica, that costs ${money(fair.cost)} with ${fair.cold} cold callers; best is ${after(best.timeoutSeconds)}, ${money(best.cost)} with ${best.cold}; who knew every gap would pay ${money(known)}.`,
        ]
      : []),
    ...(stopped > 0 ? [`Stopped in place of given back, its disk goes on costing ${money(stopped)} a month.`] : []),
  ]
  return {
    startUpSeconds: startUp,
    fairTimeoutSeconds: fairTimeout(prices),
    fair,
    best: { ...best, never: best.timeoutSeconds === Infinity },
    clairvoyantCost: known,
    gaps: gaps.length,
    words,
  }
}

function sessionText(found: Session): string {
  const { one } = found.asked
  return [
    `A SESSION WITH ${one.service}: ${one.machine}, ${one.variant}${one.devices > 1 ? ` on ${one.devices} devices` : ''}`,
    ...sessionWords(found).map((w) => `${w[0].toUpperCase()}${w.slice(1)}.`),
    '',
    table(['and then', ...LOOKED_AT.map((l) => l.words), 'left over'], branchRows(found)),
  ].join('\n')
}
