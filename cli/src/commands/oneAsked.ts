import {
  capital,
  beginPlan,
  estimatedTokens,
  figuresOf,
  FINDS,
  likelyAsked,
  likelyPlace,
  parseFigure,
  waySeconds,
  type Figures,
  type Finds,
  type OneAsked,
  type Plan,
  type Service,
} from '@sandclock/core'
import { textFile } from '../input.ts'
import { note } from '../progress.ts'
import { refusing } from '../refusing.ts'
import { figuresFrom, offers, type FigureOptions } from './beginFigures.ts'

/** Which request to which replica: what commands about single requests have in common. */
export interface OneOptions extends Pick<FigureOptions, 'model' | 'facts' | 'alone' | 'together' | 'reads' | 'weights'> {
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
  way?: string
  offers?: string
  currency: string
}

export const refused = refusing('This request can not be laid out.')

/** A plan of a model and a market, where none is given. */
export async function planOf(options: OneOptions): Promise<Plan> {
  if (options.model === undefined && options.on === undefined)
    throw refused('plan', 'is needed, or a model (--model FILE or a shape by name) and a machine (--on NAME)')
  const machines = await offers(options.offers)
  const { model, facts, alone, together, sideBySide, reads, weights, on } = options
  // A speed is of a machine; a model is only looked at there.
  const bySpeed = model === undefined ? { on, alone, together, sideBySide, reads, weights } : {}
  const like = model === 'sketch' ? 'pictures' : model === 'sorter' ? 'classifier' : undefined
  const given = { model, facts, like, ...bySpeed }
  const figures = await figuresFrom(Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined)), machines)
  note(`No plan is given: what was not said is as "sandclock begin" assumes it; ${modelNote(figures)}.`)
  return beginPlan(figures, machines, options.currency)
}

/** How much of the model was said. */
function modelNote({ opening, shape, own }: Figures): string {
  if (own?.from === 'size') return 'of the model all but its size too'
  return own || figuresOf(opening).shape !== shape ? 'the model is yours' : 'the model too'
}

export async function askedFrom(plan: Plan, options: OneOptions): Promise<OneAsked> {
  const service = serviceFrom(plan, options.service)
  const on = {
    ...(options.on !== undefined && { machine: known('on', options.on, plan.machines) }),
    ...(options.variant !== undefined && { variant: options.variant }),
    ...(options.devices !== undefined && { devices: count('devices', options.devices) }),
    ...(options.sideBySide !== undefined && { sequences: count('side-by-side', options.sideBySide) }),
  }
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
    ...(options.way !== undefined && { way: waySeconds({ way: { seconds: time('way', options.way) } }) }),
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
function findsFrom(service: Service, { finds, idleBefore }: OneOptions, keptSeconds: number): Finds {
  if (finds !== undefined && idleBefore !== undefined) throw refused('--finds', 'follows from --idle-before; leave one of them out')
  if (finds !== undefined) {
    if (Object.hasOwn(FINDS, finds)) return finds as Finds // as was just seen
    throw refused('--finds', `must be one of ${Object.keys(FINDS).join(', ')}`, finds)
  }
  if (idleBefore === undefined || time('idle-before', idleBefore) <= keptSeconds) return 'warm'
  const left = { stop: 'stopped', unload: 'unloaded', 'give-back': 'nothing' } as const
  return left[service.nodes?.whenIdle ?? 'give-back']
}

async function promptFrom({ prompt, promptFile }: OneOptions, otherwise: number): Promise<number> {
  if (prompt !== undefined && promptFile !== undefined) throw refused('--prompt', 'is said by --prompt-file; leave one of them out')
  if (prompt !== undefined) return count('prompt', prompt)
  if (promptFile === undefined) return otherwise
  const tokens = estimatedTokens(await textFile(promptFile))
  note(
    `${promptFile}: ${tokens} tokens, an estimate by its letters; the model's own vocabulary may make it others. --prompt says how many there are.`,
  )
  return tokens
}

export function count(option: string, text: string): number {
  const value = Number(text)
  if (text.trim() !== '' && Number.isInteger(value) && value >= 1) return value
  throw refused(`--${option}`, 'must be a whole number of at least 1', text)
}

export function time(option: string, text: string): number {
  const seconds = parseFigure(text, 'duration')
  if (seconds >= 0) return seconds
  throw refused(`--${option}`, 'must be a time such as 5h or 30min', text)
}

/** Words without a full stop as sentences, a line each. */
export const sentences = (words: readonly string[]) => words.map((w) => `${capital(w)}.`).join('\n')
