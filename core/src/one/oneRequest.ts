import { startLine, type StageName } from '../answer/startBudget.ts'
import type { Candidate } from '../candidate/candidate.ts'
import { isPriced, namesOfPlaces } from '../candidate/stated.ts'
import { billedSeconds } from '../cost/bill.ts'
import { isOffered } from '../cost/purchase.ts'
import { priceOfRequest, tokenPrices } from '../cost/tokens.ts'
import { rejectionSentence } from '../explain/rejectionSentence.ts'
import { waySeconds, type WaySeconds } from '../plan/way.ts'
import { BadInput, shown } from '../plan/problem.ts'
import type { Plan } from '../plan/schema.ts'
import { startRulesOf } from '../scaling/ofPlan.ts'
import { FINDS, type OneAsked, type OneMoney } from './asked.ts'
import { isOfTokens, readyFor, type OneReady, type OneTimes } from './oneRun.ts'

/** What a request goes through, in its order. */
export type PartName = 'there' | StageName | 'wait' | 'prompt' | 'answer' | 'work' | 'back' | 'kept'

export interface OnePart {
  part: PartName
  /** after the call of him who sends it */
  fromSeconds: number
  seconds: number
  /** what the machine costs meanwhile, by the hour; null where it is not sold so */
  cost: number | null
}

/** One request along the clock and along money. */
export interface OneRequest {
  asked: OneAsked
  isTokens: boolean
  parts: OnePart[]
  /** when each token comes, after the call; empty where there are none. Of long answers some, evenly taken, the last among them */
  tokens: { number: number; seconds: number }[]
  ttftSeconds: number
  endSeconds: number
  /** until the replica is ready; 0 for one that is */
  startUpSeconds: number
  /** gap between tokens, (end − first) / (tokens − 1); null below two tokens */
  tpotSeconds: number | null
  givenBackSeconds: number
  money: OneMoney
  /** where its step costs come from */
  source: 'derived' | 'measured' | 'given'
}

/** More tokens than this are not each simulated; fewer where many others have to be simulated with each. */
const MOST_TOKENS = 200
const MOST_SIMULATED = 20_000
const title = 'This request can not be laid out.'

/**
 * Lays one request out, by simulating it and those beside it on one replica.
 *
 * @throws BadInput where it can not be had or run, does not fit the model, or is never ready in time
 */
export function oneRequest(plan: Plan, asked: OneAsked): OneRequest {
  const ready = readyFor(plan, checked(plan, asked))
  if (!ready.ok) throw new BadInput(title, [{ path: 'machine', found: shown(asked.machine), rule: rejectionSentence(ready.refusal, plan) }])
  const { candidate } = ready.configured.spec
  if (!candidate.fit.fits) throw new Error('what is stated on a machine has a candidate, and fits when it was not refused')
  const times = ready.times(asked.output)
  const isTokens = isOfTokens(plan, ready.service)
  const line = startOf(asked, candidate)
  if ('outcome' in times) throw never(asked, times.outcome, line?.timedOutAt ?? null)
  const startUpSeconds = line?.readySeconds ?? 0
  const parts = partsOf(asked, times, line, isTokens)
  const money = moneyOf(plan, asked, candidate, times, startUpSeconds, line, isTokens)
  const { there, tokenBack, wholeBack } = wayOfOne(asked)
  const rate = money.byHour ? money.byHour.perHour / 3600 : null
  return {
    asked,
    isTokens,
    // While a request is on its way nothing is paid for it.
    parts: parts.map((p) => ({ ...p, cost: rate === null ? null : p.part === 'there' || p.part === 'back' ? 0 : rate * p.seconds })),
    tokens: isTokens ? tokensOf(ready, times).map((t) => ({ ...t, seconds: there + t.seconds + tokenBack })) : [],
    ttftSeconds: there + times.firstToken + tokenBack,
    endSeconds: there + times.end + wholeBack,
    startUpSeconds,
    tpotSeconds: isTokens && asked.output > 1 ? (times.end - times.firstToken) / (asked.output - 1) : null,
    givenBackSeconds: there + times.end + asked.keptSeconds,
    money,
    source: candidate.fit.source,
  }
}

function checked(plan: Plan, asked: OneAsked): OneAsked {
  const service = plan.services.find((s) => s.name === asked.service)
  const listed = (names: readonly string[]) => names.map(shown).join(', ')
  const wrong = (path: string, found: string, rule: string) => new BadInput(title, [{ path, found, rule }])
  if (!service) throw wrong('service', shown(asked.service), `must be one of ${listed(plan.services.map((s) => s.name))}`)
  const { machines, variants } = namesOfPlaces(plan, service)
  if (!machines.includes(asked.machine)) throw wrong('machine', shown(asked.machine), `must be one of ${listed(machines)}`)
  if (!variants.includes(asked.variant)) throw wrong('variant', shown(asked.variant), `must be one of ${listed(variants)}`)
  const counts = { devices: asked.devices, sequences: asked.sequences, input: asked.input, output: asked.output }
  for (const [path, n] of Object.entries(counts))
    if (!Number.isInteger(n) || n < 1) throw wrong(path, String(n), 'must be a whole number of at least 1')
  if (!Number.isInteger(asked.others) || asked.others < 0 || asked.others > 4096)
    throw wrong('others', String(asked.others), 'must be a whole number from 0 to 4096')
  if (!(asked.keptSeconds >= 0)) throw wrong('kept', String(asked.keptSeconds), 'must be a time of at least 0')
  return asked
}

function never({ input, output }: OneAsked, outcome: string, timedOutAt: number | null): BadInput {
  if (timedOutAt !== null)
    return new BadInput(title, [
      { path: 'timeoutSeconds', rule: `gives each start-up up after ${Math.round(timedOutAt)} s, before it is ready` },
    ])
  return new BadInput(title, [
    {
      path: 'prompt and answer',
      found: `${input} + ${output}`,
      rule: `can not be served by this replica: the request is ${outcome}; its cache or the model takes no more`,
    },
  ])
}

function startOf(asked: OneAsked, candidate: Candidate) {
  const { from } = FINDS[asked.finds]
  const rules = startRulesOf(candidate.service, candidate.model, candidate.variant, candidate.machine)
  return from === null ? undefined : startLine(rules, from, 1, 0)
}

function partsOf(
  asked: OneAsked,
  times: OneTimes,
  line: ReturnType<typeof startLine> | undefined,
  isTokens: boolean,
): Omit<OnePart, 'cost'>[] {
  const { there, wholeBack } = wayOfOne(asked)
  const ready = line?.readySeconds ?? 0
  const span = (part: PartName, fromSeconds: number, until: number) => ({ part, fromSeconds, seconds: Math.max(0, until - fromSeconds) })
  const served = isTokens
    ? [span('prompt', times.start, times.firstToken), span('answer', times.firstToken, times.end)]
    : [span('work', times.start, times.end)]
  const atService = [
    ...(line?.stages ?? []).map(({ stage, fromSeconds, seconds }) => ({ part: stage, fromSeconds, seconds })),
    span('wait', ready, times.start),
    ...served,
    { part: 'back' as const, fromSeconds: times.end, seconds: wholeBack },
    { part: 'kept' as const, fromSeconds: times.end, seconds: asked.keptSeconds },
  ]
  const all = [span('there', 0, there), ...atService.map((p) => ({ ...p, fromSeconds: p.fromSeconds + there }))]
  return all.filter((p) => p.seconds > 0)
}

const wayOfOne = ({ way }: OneAsked): WaySeconds => way ?? waySeconds({})

/** When each token comes: the answer that ends with it is simulated. */
function tokensOf(ready: OneReady, whole: OneTimes): OneRequest['tokens'] {
  const { output, others } = ready.asked
  const count = Math.min(output, MOST_TOKENS, Math.max(2, Math.floor(MOST_SIMULATED / (others + 1))))
  const numbers = Array.from({ length: count }, (_, i) => (count === output ? i + 1 : Math.round(1 + (i * (output - 1)) / (count - 1))))
  return numbers.map((number) => {
    if (number === output) return { number, seconds: whole.end }
    const times = ready.times(number)
    return { number, seconds: 'end' in times ? times.end : NaN }
  })
}

const MILLION = 1e6

/** What the same request costs where its model is sold by tokens. */
function soldFor(plan: Plan, { model }: Candidate, { input, output }: OneAsked): OneMoney['byTokens'] {
  return (plan.soldByTokens ?? []).flatMap((sold) => {
    const prices = sold.model === model.name ? tokenPrices(plan, sold) : null
    return prices ? [{ offer: sold.name, amount: priceOfRequest(prices, input, output, 0) }] : []
  })
}

function moneyOf(
  plan: Plan,
  asked: OneAsked,
  candidate: Candidate,
  times: OneTimes,
  startUpSeconds: number,
  line: ReturnType<typeof startLine> | undefined,
  isTokens: boolean,
): OneMoney {
  const { currency, machines } = plan
  const { prices } = candidate
  const { onDemandPerHour, calls } = prices
  const seconds = times.end + asked.keptSeconds
  const paid = billedSeconds(seconds, prices, false)
  const transfer = (line?.fetchedBytes ?? 0) * prices.transferPerByte
  const offer = machines.find((m) => m.name === asked.machine)
  const isSoldByHour = offer ? isOffered('on-demand', offer) : isPriced(candidate)
  const byHour = isSoldByHour
    ? { perHour: onDemandPerHour, seconds, roundingSeconds: paid - seconds, transfer, amount: (onDemandPerHour * paid) / 3600 + transfer }
    : null
  const served = times.end - times.start
  const machine = line?.stages.find((s) => s.stage === 'machine')?.seconds ?? 0
  const busy = calls
    ? Math.ceil(served / calls.stepSeconds - 1e-9) * calls.stepSeconds + (calls.startIsPaid ? startUpSeconds - machine : 0)
    : 0
  const time = calls ? calls.perGigabyteSecond * calls.gigabytes * busy : 0
  const tokens = asked.input + asked.output
  const atOnce = Math.min(asked.others + 1, asked.sequences)
  return {
    currency,
    byHour,
    byCall: calls ? { call: calls.perCall, time, amount: calls.perCall + time } : null,
    byTokens: isTokens ? soldFor(plan, candidate, asked) : [],
    perMillionTokens: byHour && isTokens ? ((onDemandPerHour * served) / 3600 / atOnce / tokens) * MILLION : null,
  }
}
