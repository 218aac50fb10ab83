import {
  askedWords,
  BadInput,
  beginPlan,
  CORE_VERSION,
  duration,
  estimatedTokens,
  figuresOf,
  FINDS,
  likelyAsked,
  likelyPlace,
  oneCaution,
  oneRequest,
  oneWords,
  parseFigure,
  partRows,
  proofWords,
  prove,
  PURCHASES,
  READ_FIGURES,
  type Finds,
  type OneAsked,
  type OneRequest,
  type Plan,
  type Proof,
  type ReadFigure,
  type Reading,
  type Service,
} from '@sandclock/core'
import { MET, type ExitStatus } from '../exitStatus.ts'
import { readInput, textFile } from '../input.ts'
import { note } from '../progress.ts'
import { table } from '../table.ts'
import { figuresFrom, offers, type FigureOptions } from './beginFigures.ts'

interface Options extends Pick<FigureOptions, 'model' | 'facts' | 'alone' | 'together' | 'reads' | 'weights'> {
  service?: string
  on?: string
  variant?: string
  devices?: string
  sideBySide?: string
  prompt?: string
  promptFile?: string
  answer?: string
  finds?: string
  idleBefore?: string
  kept?: string
  others?: string
  saw?: string[]
  offers?: string
  currency: string
  json?: boolean
}

const title = 'This request can not be laid out.'
const refused = (path: string, rule: string, found?: string) => new BadInput(title, [{ path, ...(found !== undefined && { found }), rule }])

/** Lays one request out along the clock and along money, beside as many others as were asked for. */
export async function oneCommand(planFile: string | undefined, options: Options): Promise<ExitStatus> {
  const plan = planFile === undefined ? await planOf(options) : (await readInput(planFile)).plan
  const asked = await askedFrom(plan, options)
  const ones = othersOf(options.others).map((others) => oneRequest(plan, { ...asked, others }))
  const read = (options.saw ?? []).map(readingFrom)
  if (options.json) {
    const proof = read.length > 0 ? { proof: proofOf(plan, asked, read) } : {}
    process.stdout.write(
      `${JSON.stringify({ format: 'sand-clock-one', version: 1, coreVersion: CORE_VERSION, requests: ones, ...proof }, null, 2)}\n`,
    )
    return MET
  }
  process.stdout.write(`${ones.map((one) => oneText(one)).join('\n\n')}\n`)
  if (read.length > 0) process.stdout.write(`\nWHAT WAS READ\n${sentences(proofWords(proofOf(plan, asked, read), plan.currency))}\n`)
  return MET
}

/** A plan of a model and a market, where none is given. */
async function planOf(options: Options): Promise<Plan> {
  if (options.model === undefined && options.on === undefined)
    throw refused('plan', 'is needed, or a model (--model FILE or a shape by name) and a machine (--on NAME)')
  const machines = await offers(options.offers)
  const { model, facts, alone, together, sideBySide, reads, weights, on } = options
  // A speed is of a machine; a model is only looked at there.
  const bySpeed = model === undefined ? { on, alone, together, sideBySide, reads, weights } : {}
  const like = model === 'sketch' ? 'pictures' : model === 'sorter' ? 'classifier' : undefined
  const given = { model, facts, like, ...bySpeed }
  const figures = await figuresFrom(Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined)), machines)
  note(
    `No plan is given: what was not said is as "sandclock begin" assumes it; ${figuresOf(figures.opening).shape === figures.shape && !figures.own ? 'the model too' : 'the model is yours'}.`,
  )
  return beginPlan(figures, machines, options.currency)
}

async function askedFrom(plan: Plan, options: Options): Promise<OneAsked> {
  const service = serviceFrom(plan, options.service)
  const on = {
    ...(options.on !== undefined && { machine: known('on', options.on, plan.machines) }),
    ...(options.variant !== undefined && { variant: options.variant }),
    ...(options.devices !== undefined && { devices: count('devices', options.devices) }),
    ...(options.sideBySide !== undefined && { sequences: count('side-by-side', options.sideBySide) }),
  }
  if (service.model === undefined)
    throw refused('--service', 'states its own step costs and has no model, so no start-up and no money either', service.name)
  const place = likelyPlace(plan, service, on)
  if (!place)
    throw refused(
      '--on',
      `has no room for ${service.model ?? 'it'}${on.machine === undefined ? '' : ` on ${on.machine}`}; see sandclock fit`,
    )
  const likely = likelyAsked(plan, service, place)
  const keptSeconds = options.kept === undefined ? likely.keptSeconds : time('kept', options.kept)
  return {
    ...likely,
    keptSeconds,
    input: await promptFrom(options, likely.input),
    output: options.answer === undefined ? likely.output : count('answer', options.answer),
    finds: findsFrom(service, options, keptSeconds),
  }
}

function serviceFrom({ services }: Plan, name: string | undefined): Service {
  if (name !== undefined) return services.find((s) => s.name === known('service', name, services)) ?? services[0]
  if (services.length > 1) throw refused('--service', `must say which: ${services.map((s) => s.name).join(', ')}`)
  return services[0]
}

function known(option: string, name: string, list: readonly { name: string }[]): string {
  if (list.some((one) => one.name === name)) return name
  throw refused(`--${option}`, `must be one of ${list.map((one) => one.name).join(', ')}`, name)
}

/** Whether the service still has what it had when the last request was so long ago. */
function findsFrom(service: Service, { finds, idleBefore }: Options, keptSeconds: number): Finds {
  if (finds !== undefined && idleBefore !== undefined) throw refused('--finds', 'follows from --idle-before; leave one of them out')
  if (finds !== undefined) {
    if (Object.hasOwn(FINDS, finds)) return finds as Finds // as was just seen
    throw refused('--finds', `must be one of ${Object.keys(FINDS).join(', ')}`, finds)
  }
  if (idleBefore === undefined || time('idle-before', idleBefore) <= keptSeconds) return 'warm'
  return service.nodes?.whenIdle === 'stop' ? 'stopped' : 'nothing'
}

async function promptFrom({ prompt, promptFile }: Options, otherwise: number): Promise<number> {
  if (prompt !== undefined && promptFile !== undefined) throw refused('--prompt', 'is said by --prompt-file; leave one of them out')
  if (prompt !== undefined) return count('prompt', prompt)
  if (promptFile === undefined) return otherwise
  const tokens = estimatedTokens(await textFile(promptFile))
  note(
    `${promptFile}: ${tokens} tokens, an estimate by its letters; the model's own vocabulary may make it others. --prompt says how many there are.`,
  )
  return tokens
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

function count(option: string, text: string): number {
  const value = Number(text)
  if (text.trim() !== '' && Number.isInteger(value) && value >= 1) return value
  throw refused(`--${option}`, 'must be a whole number of at least 1', text)
}

function time(option: string, text: string): number {
  const seconds = parseFigure(text, 'duration')
  if (seconds >= 0) return seconds
  throw refused(`--${option}`, 'must be a time such as 5h or 30min', text)
}

function othersOf(text = '0'): number[] {
  return text.split(',').map((part) => {
    const value = Number(part)
    if (part.trim() !== '' && Number.isInteger(value) && value >= 0) return value
    throw refused('--others', 'must be whole numbers such as 0,1,8', text)
  })
}

const sentences = (words: readonly string[]) => words.map((w) => `${w[0].toUpperCase()}${w.slice(1)}.`).join('\n')

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
