import {
  askedWords,
  checkEstimate,
  CORE_VERSION,
  duration,
  ESTIMATES,
  estimateWords,
  oneCaution,
  oneRequest,
  oneWords,
  parseFigure,
  partRows,
  proofWords,
  prove,
  PURCHASES,
  READ_FIGURES,
  readQuantity,
  shownOf,
  type Estimated,
  type OneAsked,
  type OneRequest,
  type Plan,
  type Proof,
  type ReadFigure,
  type Reading,
  type TakenApart,
} from '@sandclock/core'
import { MET, type ExitStatus } from '../exitStatus.ts'
import { readInput } from '../input.ts'
import { table } from '../table.ts'
import { askedFrom, planOf, refused, sentences, type OneOptions } from './oneAsked.ts'

interface Options extends OneOptions {
  others?: string
  saw?: string[]
  mine?: string[]
  json?: boolean
}

/** Lays one request out along the clock and along money, beside as many others as were asked for. */
export async function oneCommand(planFile: string | undefined, options: Options): Promise<ExitStatus> {
  const plan = planFile === undefined ? await planOf(options) : (await readInput(planFile)).plan
  const asked = await askedFrom(plan, options)
  const ones = othersOf(options.others).map((others) => oneRequest(plan, { ...asked, others }))
  const read = (options.saw ?? []).map(readingFrom)
  const mine = (options.mine ?? []).map((text) => mineFrom(plan, asked, text))
  if (options.json) {
    const estimates = mine.length > 0 ? { estimates: mine.map(({ what, taken }) => ({ what, ...taken })) } : {}
    const proof = read.length > 0 ? { proof: proofOf(plan, asked, read) } : {}
    process.stdout.write(
      `${JSON.stringify({ format: 'sand-clock-one', version: 1, coreVersion: CORE_VERSION, requests: ones, ...proof, ...estimates }, null, 2)}\n`,
    )
    return MET
  }
  process.stdout.write(`${ones.map((one) => oneText(one)).join('\n\n')}\n`)
  if (read.length > 0) process.stdout.write(`\nWHAT WAS READ\n${sentences(proofWords(proofOf(plan, asked, read), plan.currency))}\n`)
  if (mine.length > 0) {
    const words = mine.map(({ what, taken }) => estimateWords(taken, shownOf(what, plan.currency)))
    process.stdout.write(`\nYOUR OWN ESTIMATE\n${sentences(words)}\n`)
  }
  return MET
}

/** An own estimate beside what it is made of: "memory=28GB", "time=8.2" or "month=1300". */
function mineFrom(plan: Plan, asked: OneAsked, text: string): { what: Estimated; taken: TakenApart } {
  const [, what, value = ''] = /^(\w+)=(.+)$/.exec(text.trim()) ?? []
  if (what === undefined || !Object.hasOwn(ESTIMATES, what))
    throw refused('--mine', `must be ${Object.keys(ESTIMATES).join(', ')} and a figure, such as memory=28GB, time=8.2s or month=1300`, text)
  const its = what as Estimated // one of them, as was just seen
  const read = readQuantity(its === 'time' && !/[a-z]/i.test(value) ? `${value} s` : value, ESTIMATES[its].kind)
  if ('complaint' in read) throw refused('--mine', `is not understood: ${read.complaint}`, text)
  if (!(read.value > 0)) throw refused('--mine', 'must be a figure above 0', text)
  return { what: its, taken: checkEstimate(plan, asked, its, read.value) }
}

/** What one reading says: "whole=8.2", or "first=0.4@3" with three others in service. */
function readingFrom(text: string): Reading {
  const [, figure, value, others = '0'] = /^(\w+)=([^@]+)(?:@(\d+))?$/.exec(text.trim()) ?? []
  if (figure === undefined || !Object.hasOwn(READ_FIGURES, figure))
    throw refused('--saw', `must be ${Object.keys(READ_FIGURES).join(', ')} and a figure, such as whole=8.2 or first=0.4@3`, text)
  const number = figure === 'speed' ? Number(value) : parseFigure(/[a-z]/i.test(value) ? value : `${value} s`, 'duration')
  if (!(number > 0)) throw refused('--saw', 'must be a figure above 0', text)
  return { figure: figure as ReadFigure, value: number, others: Number(others) } // one of them, as was just seen
}

function proofOf(plan: Plan, asked: OneAsked, read: readonly Reading[]): Proof {
  const steps = prove(plan, asked, read)
  for (;;) {
    const { value, done } = steps.next()
    if (done) return value
  }
}

function othersOf(text = '0'): number[] {
  return text.split(',').map((part) => {
    const value = Number(part)
    if (part.trim() !== '' && Number.isInteger(value) && value >= 0) return value
    throw refused('--others', 'must be whole numbers such as 0,1,8', text)
  })
}

function oneText(one: OneRequest): string {
  const { asked } = one
  const where = `${asked.machine}, ${asked.variant}${asked.devices > 1 ? ` on ${asked.devices} devices` : ''}, up to ${asked.sequences} side by side`
  return [
    `ONE REQUEST TO ${asked.service}: ${askedWords(asked, one.isTokens)}`,
    where,
    '',
    table(['after', 'takes', 'what', PURCHASES['on-demand'].picked], partRows(one)),
    '',
    sentences([...oneWords(one), oneCaution(one)]),
    ...(one.tokens.length > 2
      ? [
          `Tokens: ${[1, 2, 10, 50, 100, 200]
            .flatMap((n) => one.tokens.filter((t) => t.number === n))
            .map((t) => `${t.number} after ${duration(t.seconds)}`)
            .join(', ')}.`,
        ]
      : []),
  ].join('\n')
}
