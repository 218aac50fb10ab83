import {
  beliefSentence,
  doubtWords,
  fitSteps,
  grouped,
  judge,
  judgedTable,
  unusedWords,
  percent,
  misfitWords,
  readHowToAsk,
  readProbed,
  specOfSteps,
  splitOf,
  stepCostsTable,
  STEP_COEFFICIENTS,
  streamedOf,
  UNJUDGED,
  wereFitted,
  type FittedSteps,
  type Judgement,
  type Price,
  type ProbedTable,
} from '@sandclock/core'
import { MET, NOT_MET, type ExitStatus } from '../exitStatus.ts'
import { textFile } from '../input.ts'
import { note } from '../progress.ts'
import { refusing } from '../refusing.ts'
import { table } from '../table.ts'
import { within } from '../within.ts'
import { writeJson } from '../writePieces.ts'

interface CostsOptions {
  judge?: string
  sequences?: string
  replicas?: string
  chunks?: boolean
  cacheTokens?: string
  how?: string
  out?: string
}

const refused = refusing('No step costs can be found behind this.')

/** Finds the step costs behind measured requests, and judges them by others. Exit status 1 where there was nothing to judge them by. */
export async function costsCommand(rowsFile: string, options: CostsOptions): Promise<ExitStatus> {
  const all = readProbed(await textFile(rowsFile))
  const { fitting, judging } =
    options.judge === undefined ? splitOf(all) : { fitting: all, judging: readProbed(await textFile(options.judge)) }
  const cacheTokens =
    options.cacheTokens === undefined ? undefined : within(refused, '--cache-tokens', options.cacheTokens, 'count', 1, 1e9)
  const served = {
    replicas: within(refused, '--replicas', options.replicas ?? '1', 'count', 1, 1000),
    sequences: within(refused, '--sequences', options.sequences ?? '1024', 'count', 1, 4096),
    prompts: options.chunks ? ('interleaved' as const) : ('whole' as const),
  }
  const fitted = fitSteps(fitting, served)
  if (!fitted)
    throw refused(
      rowsFile,
      `has ${streamedOf(fitting).length} requests that finished and streamed; it takes at least ${STEP_COEFFICIENTS.length}, better some dozens`,
    )
  if (wereFitted(fitted, judging))
    throw refused('--judge', 'has requests that are fitted: what was fitted can not judge; measure another load', options.judge)
  const judged = judging.length > 0 ? judge(fitted, judging) : undefined
  const left = [...unusedWords('fitted', fitting), ...unusedWords('judged', judging)]
  const paid = options.how === undefined ? undefined : readHowToAsk(await textFile(options.how)).price
  process.stdout.write(`${[...(judged ? judgedText(judged) : [UNJUDGED]), ...left, '', ...fittedText(fitted, paid)].join('\n')}\n`)
  if (options.out !== undefined) {
    await writeJson(options.out, { ...specOfSteps(fitted.values), ...(cacheTokens !== undefined && { cacheTokens }) })
    if (cacheTokens === undefined)
      note(
        'it lacks cacheTokens, which a plan wants and no such measurement shows: say what the cache of a replica holds with --cache-tokens',
      )
  }
  return judged ? MET : NOT_MET
}

const asText = ({ header, rows }: ProbedTable) => table(header, rows)

const judgedText = (judged: Judgement): string[] => [beliefSentence(judged), '', asText(judgedTable(judged))]

function fittedText(fitted: FittedSteps, paid: Price | undefined): string[] {
  const { requests, mostAtOnce, medianError } = fitted
  return [
    asText(stepCostsTable(fitted)),
    `Fitted to ${grouped(requests, 0)} requests, each by itself, up to ${mostAtOnce} at once; a time is off by ${percent(medianError)} in the middle.`,
    ...misfitWords(fitted),
    ...doubtWords(fitted, paid),
  ]
}
