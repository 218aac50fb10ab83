import { beginPlan } from '../begin/beginPlan.ts'
import { OPENINGS, type Figures } from '../begin/openings.ts'
import { ASPECTS, drawnLike, effective, type Aspect, type ClassFit, type Likeness, type LogFit } from '../demand/fitted/fitLog.ts'
import { withLogLoad, matchLog } from '../demand/log/matchLog.ts'
import type { RequestLog } from '../demand/log/requestLog.ts'
import { assumedWords } from '../explain/assumedWords.ts'
import { fitWords } from '../explain/fitWords.ts'
import { writePlanYaml, type FieldComment } from '../files/planYaml.ts'
import { checkPlan } from '../plan/read.ts'
import { BadInput } from '../plan/problem.ts'
import type { Machine, Plan, RequestClass, Size } from '../plan/schema.ts'

/** How a plan is begun from a log. */
export interface FromLog {
  log: RequestLog
  fit: LogFit
  /** the log itself, once; or loads that are drawn like it */
  as: 'came' | 'such'
  /** what is taken of the fit of each class, by its name; what is clear in it if left out */
  taken?: Readonly<Record<string, readonly Aspect[]>>
  change?: Likeness
}

/** What of a beginning's own load a log takes the place of. */
const OF_THE_LOAD = /^classes\[0\]\.(arrivals|input|work)$/

/**
 * A plan whose load is that of a log and everything else of a beginning, with what each field is by: the log, or an assumption.
 *
 * @throws BadInput when the figures make no plan, or the log can not be taken as it came
 */
export function begunFromLog(
  figures: Figures,
  machines: readonly Machine[],
  currency: string,
  from: FromLog,
): { plan: Plan; comments: FieldComment[]; text: string } {
  const base = beginPlan(figures, machines, currency)
  const plan = from.as === 'came' ? asItCame(base, from.log) : suchALoad(base, figures, from)
  const comments = [
    ...assumedWords(figures, plan)
      .filter(({ field }) => !OF_THE_LOAD.test(field))
      .map(({ field, words }) => ({ field, words: `assumed: ${words}` })),
    ...(from.as === 'such' ? from.fit.classes.flatMap((c, i) => logComments(c, i, takenOf(from, c))) : []),
  ]
  const top =
    from.as === 'came'
      ? `Begun like "${OPENINGS[figures.opening].words}", with the requests of ${from.log.name} as they came.`
      : `Begun like "${OPENINGS[figures.opening].words}", with a load that is drawn like ${from.log.name}.`
  return { plan, comments, text: writePlanYaml(plan, comments, `${top} What is marked as assumed was not asked for.`) }
}

const takenOf = ({ taken }: FromLog, { name, clear }: ClassFit): ReadonlySet<Aspect> => effective(taken?.[name] ?? clear)

function suchALoad(base: Plan, figures: Figures, from: FromLog): Plan {
  const [like] = base.classes
  const isWork = OPENINGS[figures.opening].works !== 'tokens'
  const { input: _, output: __, work: ___, ...rest } = like
  const classes = from.fit.classes.map((c): RequestClass => {
    const { input, output, lengthCorrelation, ...drawn } = drawnLike(c, takenOf(from, c), from.change)
    const sizes = isWork
      ? { work: input }
      : { input: within(input, base), output, ...(lengthCorrelation !== undefined && { lengthCorrelation }) }
    return { ...rest, name: c.name, ...drawn, ...sizes }
  })
  return checkPlan({ ...base, name: nameOf(from.log), classes })
}

function asItCame(base: Plan, log: RequestLog): Plan {
  const [like] = base.classes
  const classes = log.classNames.map((name): RequestClass => ({ ...like, name: name === '' ? like.name : name }))
  if (classes.length === 0) throw new BadInput('This plan can not be begun.', [{ path: '--from', rule: 'has no request' }])
  const named = { ...base, name: nameOf(log), classes }
  return checkPlan(withLogLoad(named, matchLog(named, log).log))
}

const nameOf = ({ name }: RequestLog) => `Like ${name.split('/').at(-1) ?? name}`.slice(0, 80)

/** No prompt is drawn that the model can not take. */
function within(size: Size | undefined, { models }: Plan): Size | undefined {
  const [model] = models
  const context = 'contextTokens' in model ? (model.contextTokens ?? Infinity) : Infinity
  return size?.kind === 'lognormal' && (size.max ?? Infinity) > context ? { ...size, max: context } : size
}

/** The field of a class that each thing is about which its log says. */
const FIELDS = {
  count: 'name',
  week: 'arrivals',
  hours: 'arrivals',
  growth: 'arrivals',
  bursts: 'arrivals',
  sessions: 'arrivals',
  input: 'input',
  output: 'output',
  correlation: 'input',
} as const

function logComments(fit: ClassFit, i: number, taken: ReadonlySet<Aspect>): FieldComment[] {
  return fitWords(fit).map(({ about, words }) => ({
    field: `classes[${i}].${FIELDS[about]}`,
    words: `from the log${about in ASPECTS && !taken.has(about as Aspect) ? ', left out' : ''}: ${words}`,
  }))
}
