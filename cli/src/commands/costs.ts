import {
  BadInput,
  beliefSentence,
  doubtWords,
  duration,
  fitSteps,
  grouped,
  judge,
  JUDGED_FIGURES,
  misfitWords,
  parseFigure,
  readProbed,
  specOfSteps,
  STEP_COEFFICIENTS,
  threeDigits,
  usable,
  type FittedSteps,
  type Judgement,
  type JudgedPercentile,
  type ProbedRequest,
} from '@sandclock/core'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { textFile } from '../input.ts'
import { table } from '../table.ts'
import { writeJson } from '../writePieces.ts'

interface CostsOptions {
  judge?: string
  sequences?: string
  replicas?: string
  chunks?: boolean
  out?: string
}

const refused = (path: string, rule: string, found?: string) =>
  new BadInput('No step costs can be found behind this.', [{ path, rule, ...(found !== undefined && { found }) }])

/** Finds the step costs behind measured requests, and judges them by others. Exit status 1 where there was nothing to judge them by. */
export async function costsCommand(rowsFile: string, options: CostsOptions): Promise<ExitStatus> {
  const all = readProbed(await textFile(rowsFile))
  const { fitting, judging } =
    options.judge === undefined ? split(all) : { fitting: all, judging: readProbed(await textFile(options.judge)) }
  const served = {
    replicas: whole('--replicas', options.replicas, 1, 1000),
    sequences: whole('--sequences', options.sequences, 1024, 4096),
    prompts: options.chunks ? ('interleaved' as const) : ('whole' as const),
  }
  const fitted = fitSteps(fitting, served)
  if (!fitted)
    throw refused(
      rowsFile,
      `has ${usable(fitting).length} requests that finished and streamed; it takes at least ${STEP_COEFFICIENTS.length}, better some dozens`,
    )
  const judged = judging.length > 0 ? judge(fitted, judging) : undefined
  const left = [...leftOutWords('fitted', fitting), ...leftOutWords('judged', judging)]
  process.stdout.write(`${[...(judged ? judgedText(judged) : [UNJUDGED]), ...left, '', ...fittedText(fitted)].join('\n')}\n`)
  if (options.out !== undefined) await writeJson(options.out, { ...specOfSteps(fitted.values) })
  return judged ? MET : NOT_MET
}

const UNJUDGED = 'Nothing judges this fit: all there is was fitted. Measure another load, and give it with --judge.'

/** Whoever did not finish is not replayed: what he took from the others is missing. */
function leftOutWords(what: string, rows: readonly ProbedRequest[]): string[] {
  const count = rows.filter((r) => !r.warmUp).length
  const left = count - usable(rows).length
  return left === 0
    ? []
    : [
        `${grouped(left, 0)} of the ${grouped(count, 0)} requests that are ${what} did not finish, or did not stream, and are left out: what they took from the others is not in it.`,
      ]
}

/** What was measured last is left out of the fit, and judges it: never the same. */
function split(all: ProbedRequest[]): { fitting: ProbedRequest[]; judging: ProbedRequest[] } {
  const parts = [...new Set(usable(all).map((r) => r.part))]
  const last = parts.length > 1 ? parts.at(-1) : undefined
  return { fitting: all.filter((r) => r.part !== last), judging: all.filter((r) => r.part === last) }
}

function whole(option: string, text: string | undefined, otherwise: number, most: number): number {
  const value = text === undefined ? otherwise : parseFigure(text, 'count')
  if (value >= 1 && value <= most) return value
  throw refused(option, `must be a whole number from 1 to ${grouped(most, 0)}`, text)
}

function judgedText(judged: Judgement): string[] {
  const cell = (p: JudgedPercentile | undefined) =>
    p ? [duration(p.measured.value), duration(p.predictedSeconds), errorWords(p)] : ['–', '–', '–']
  return [
    beliefSentence(judged),
    '',
    table(
      ['not fitted', 'measured', 'predicted', 'off by'],
      judged.percentiles.map((p) => [`${JUDGED_FIGURES[p.figure]} ${p.share}`, ...cell(p)]),
    ),
  ]
}

const signed = (share: number) => `${share < 0 ? '−' : '+'}${threeDigits(Math.abs(share) * 100)} %`
const errorWords = ({ error, errorLow, errorHigh }: JudgedPercentile) =>
  `${signed(error)} (${errorLow === undefined ? '' : signed(errorLow)} … ${errorHigh === undefined ? '' : signed(errorHigh)})`

function fittedText(fitted: FittedSteps): string[] {
  const { values, intervals, requests, mostAtOnce, medianError } = fitted
  return [
    table(
      ['step costs', '', 'from', 'to', 'seconds'],
      STEP_COEFFICIENTS.map(({ symbol, meaning }, c) => [
        symbol,
        duration(values[c]),
        ...(intervals[c] ? [duration(intervals[c].low), duration(intervals[c].high)] : ['–', '–']),
        meaning,
      ]),
    ),
    `Fitted to ${grouped(requests, 0)} requests, each by itself, up to ${mostAtOnce} at once; a time is off by ${threeDigits(medianError * 100)} % in the middle.`,
    ...misfitWords(fitted),
    ...doubtWords(fitted),
  ]
}
