import { PURCHASES } from '../plan/ways.ts'
import { price } from '../units/price.ts'
import { duration } from '../units/duration.ts'
import { grouped } from '../units/number.ts'
import { FINDS, type OneAsked } from './asked.ts'
import type { OnePart, OneRequest, PartName } from './oneRequest.ts'

/** What happens in each part of a request, for people. */
export const PART_WORDS: Record<PartName, string> = {
  there: 'it is on its way to the service',
  machine: 'the machine comes',
  image: 'its image is pulled',
  weights: 'the weights are fetched',
  load: 'they are loaded',
  warmup: 'it warms up',
  wait: 'it waits for its turn',
  prompt: 'the prompt is read',
  answer: 'the answer is written',
  work: 'it is worked on',
  back: 'its answer is on its way back',
  kept: 'the machine is kept',
}

/** @example askedWords(asked, true) // 'a prompt of 600 tokens and an answer of 200, which finds nothing there' */
export function askedWords({ input, output, finds, others }: OneAsked, isTokens: boolean): string {
  const size = isTokens
    ? `a prompt of ${grouped(input, 0)} tokens and an answer of ${grouped(output, 0)}`
    : `a request of ${grouped(input, 0)} work units`
  const beside = others === 0 ? '' : `, beside ${others === 1 ? 'one other' : `${others} others`} in service`
  return `${size}, which finds ${FINDS[finds].words}${beside}`
}

/** What is to be said of it in a sentence each, without a full stop: how long and how much. */
export function oneWords(one: OneRequest): string[] {
  const { asked, money, isTokens } = one
  const { currency } = money
  const total = asked.input + asked.output
  return [
    isTokens
      ? `the first token comes after ${duration(one.ttftSeconds)}, the last after ${duration(one.endSeconds)}${one.tpotSeconds === null ? '' : `, one every ${duration(one.tpotSeconds)}`}`
      : `it is done after ${duration(one.endSeconds)}`,
    ...(one.startUpSeconds > 0
      ? [`${duration(one.startUpSeconds)} of it are the start-up, ${duration(one.endSeconds - one.startUpSeconds)} are its own work`]
      : []),
    ...(money.byHour
      ? [
          `${PURCHASES['on-demand'].picked} it costs ${price(money.byHour.amount, currency)}: ${duration(money.byHour.seconds)} until the machine is given back${money.byHour.roundingSeconds > 0 ? `, ${duration(money.byHour.roundingSeconds)} more by the step that is billed` : ''}${money.byHour.transfer > 0 ? `, ${price(money.byHour.transfer, currency)} of it for what its start fetches` : ''}`,
        ]
      : []),
    ...(money.byCall ? [`by the call it costs ${price(money.byCall.amount, currency)}`] : []),
    ...money.byTokens.map(({ offer, amount }) => `by tokens it costs ${price(amount, currency)} at ${offer}`),
    ...(money.perMillionTokens !== null && isTokens
      ? [
          `a million tokens of such requests, ${Math.min(asked.others + 1, asked.sequences)} at once and one after the other, would be ${price(money.perMillionTokens, currency)}; this one has ${grouped(total, 0)}`,
        ]
      : []),
  ]
}

/** What it may not be taken for. */
export const oneCaution = ({ source }: OneRequest): string =>
  `its step costs are ${source}; one request says nothing of how many a second a replica can bear`

/** Its parts as rows: from when, how long, what, what the machine costs meanwhile. */
export function partRows({ parts, money }: OneRequest): string[][] {
  return parts.map((p: OnePart) => [
    duration(p.fromSeconds),
    duration(p.seconds),
    PART_WORDS[p.part],
    p.cost === null ? '–' : price(p.cost, money.currency),
  ])
}
