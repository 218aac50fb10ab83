import { beginPlan } from '../begin/beginPlan.ts'
import { OPENINGS, type Figures } from '../begin/openings.ts'
import { ASPECTS, type Aspect, type ClassFit } from '../demand/fitted/classFit.ts'
import type { LogFit } from '../demand/fitted/fitLog.ts'
import { drawnLike, effective, type Likeness } from '../demand/fitted/likeness.ts'
import { withLogLoad, matchLog } from '../demand/log/matchLog.ts'
import type { RequestLog } from '../demand/log/requestLog.ts'
import { assumedWords } from '../explain/assumedWords.ts'
import { fitWords } from '../explain/fitWords.ts'
import { writePlanYaml, type FieldComment } from '../files/planYaml.ts'
import { checkPlan } from '../plan/read.ts'
import { BadInput } from '../plan/problem.ts'
import { threeDigits } from '../units/number.ts'
import type { Machine, Plan, RequestClass, Size } from '../plan/schema.ts'

/** How a plan is begun from a log. */
export type FromLog = {
  fit: LogFit
  /** what is taken of the fit of each class, by its name; what is clear in it if left out */
  taken?: Readonly<Record<string, readonly Aspect[]>>
  change?: Likeness
} & (
  | { /** the log itself, once */ as: 'came'; log: RequestLog }
  | { /** loads that are drawn like it, or like a metrics history */ as: 'such'; log: Pick<RequestLog, 'name'> }
)

/** What of a beginning's own load a log takes the place of; where it is replayed, there are no draws either. */
const OF_THE_LOAD = { such: /^classes\[0\]\.(arrivals|input|work)$/, came: /^classes\[0\]\.(arrivals|input|work)$|^horizon$|^seed$/ }

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
  const assumed = assumedWords(figures, plan)
    .filter(({ field }) => !OF_THE_LOAD[from.as].test(field))
    // What is assumed of the one class of a beginning is of all that the log has.
    .flatMap(({ field, words }) =>
      field.startsWith('classes[0]') ? plan.classes.map((_, i) => ({ field: field.replace('[0]', `[${i}]`), words })) : [{ field, words }],
    )
  const comments = [
    ...assumed.map(({ field, words }) => ({ field, words: `assumed: ${words}` })),
    ...(from.as === 'such' ? from.fit.classes.flatMap((c, i) => logComments(plan, c, i, takenOf(from, c))) : []),
    ...plan.classes.flatMap((c, i) =>
      from.change?.variation !== undefined && burstsOf(c) ? [assumedBursts(from.change.variation, i)] : [],
    ),
  ]
  const top =
    from.as === 'came'
      ? `Begun like "${OPENINGS[figures.opening].words}", with the requests of ${from.log.name} as they came.`
      : `Begun like "${OPENINGS[figures.opening].words}", with a load that is drawn like ${from.log.name}.`
  return { plan, comments, text: writePlanYaml(plan, comments, `${top} What is marked as assumed was not asked for.`) }
}

const burstsOf = ({ arrivals }: RequestClass) => ('bursts' in arrivals ? arrivals.bursts : undefined)

const assumedBursts = (variation: number, i: number): FieldComment => ({
  field: `classes[${i}].arrivals.bursts`,
  words: `assumed: gaps vary ${threeDigits(variation)} times as much as by pure chance, which a history does not say`,
})

const takenOf = ({ taken }: FromLog, { name, clear }: ClassFit): ReadonlySet<Aspect> => effective(taken?.[name] ?? clear)

function suchALoad(base: Plan, figures: Figures, from: FromLog): Plan {
  const [like] = base.classes
  const isWork = OPENINGS[figures.opening].works !== 'tokens'
  const { input: _, output: __, work: ___, ...rest } = like
  const classes = from.fit.classes.map((c): RequestClass => {
    const { input, output, lengthCorrelation, ...drawn } = drawnLike(c, takenOf(from, c), from.change)
    const said = {
      input: isUnsaid(c, 'input') ? (like.input ?? like.work ?? input) : input,
      output: isUnsaid(c, 'output') ? like.output : output,
    }
    const sizes = isWork
      ? { work: said.input }
      : { ...withinContext(base, said.input, said.output), ...(lengthCorrelation !== undefined && { lengthCorrelation }) }
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

const isUnsaid = ({ unsaid }: ClassFit, size: 'input' | 'output') => unsaid?.includes(size) ?? false
const nameOf = ({ name }: Pick<RequestLog, 'name'>) => `Like ${name.split('/').at(-1) ?? name}`.slice(0, 80)

/** Prompts and answers of which the model takes every pair. */
function withinContext(
  { models: [model] }: Plan,
  input: Size | undefined,
  output: Size | undefined,
): Pick<RequestClass, 'input' | 'output'> {
  const context = 'contextTokens' in model ? (model.contextTokens ?? Infinity) : Infinity
  const answers = within(output, Math.floor(context / 2))
  return { input: within(input, context - largest(answers)), output: answers }
}

function within(size: Size | undefined, most: number): Size | undefined {
  if (size?.kind === 'lognormal') return { ...size, max: Math.min(size.max ?? Infinity, most) }
  if (size?.kind === 'empirical') return { ...size, values: size.values.map((v) => Math.min(v, most)) }
  return size?.kind === 'fixed' ? { ...size, value: Math.min(size.value, most) } : size
}

function largest(size: Size | undefined): number {
  if (size?.kind === 'fixed') return size.value
  if (size?.kind === 'empirical') return size.values.reduce((a, b) => Math.max(a, b), 0)
  return size?.kind === 'lognormal' ? (size.max ?? 0) : 0
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

function logComments({ classes }: Plan, fit: ClassFit, i: number, taken: ReadonlySet<Aspect>): FieldComment[] {
  const fieldOf = (about: keyof typeof FIELDS) => (FIELDS[about] === 'input' && classes[i].work ? 'work' : FIELDS[about])
  return fitWords(fit).map(({ about, words }) => ({
    field: `classes[${i}].${fieldOf(about)}`,
    words: `from the log${about in ASPECTS && !taken.has(about as Aspect) ? ', left out' : ''}: ${words}`,
  }))
}
