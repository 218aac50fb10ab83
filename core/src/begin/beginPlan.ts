import { capital } from '../units/capital.ts'
import {
  PLAN_FORMAT,
  PLAN_VERSION,
  type Machine,
  type Model,
  type Plan,
  type RequestClass,
  type Service,
  type Size,
} from '../plan/schema.ts'
import { ASSUMED } from './assumed.ts'
import { DAYS } from './days.ts'
import { OPENINGS, type Figures } from './openings.ts'
import { modelOfSpeed } from './ownModel.ts'
import { activationBytes, SHAPES } from './shapes.ts'

/** A median with the spread that is assumed of it, and an end. */
const spread = (median: number, most = Infinity): Size => ({
  kind: 'lognormal',
  median,
  p95: median * ASSUMED.p95OverMedian,
  max: Math.max(1, Math.min(Math.round(median * ASSUMED.maxOverMedian), most)),
})

/** Prompts and answers of which the model can take every pair. */
function tokenSizes({ input, output, ...figures }: Figures): Pick<RequestClass, 'input' | 'output'> {
  const model = modelOf(figures)
  const context = 'contextTokens' in model ? (model.contextTokens ?? Infinity) : Infinity
  const answer = spread(output, Math.floor(context / 2))
  return { input: spread(input, context - (answer.kind === 'lognormal' ? (answer.max ?? 0) : 0)), output: answer }
}

/**
 * A whole plan from the figures of a beginning; what they do not say is as {@link ASSUMED} has it. It is not checked: figures that
 * make no plan (a rate below 0, a provider without machines) are told by `checkPlan`.
 *
 * @param machines the offers, all of which are in the plan; the search looks at those of the providers that were named
 * @param currency that of the offers
 */
export function beginPlan(figures: Figures, machines: readonly Machine[], currency: string): Plan {
  const opening = OPENINGS[figures.opening]
  return {
    format: PLAN_FORMAT,
    version: PLAN_VERSION,
    name: capital(opening.words),
    currency,
    horizon: { start: ASSUMED.start, seconds: ASSUMED.horizonSeconds, warmupSeconds: ASSUMED.warmupSeconds },
    seed: 1,
    repetitions: ASSUMED.repetitions,
    margin: ASSUMED.margin,
    ...(figures.budgetPerMonth !== null && { budgetPerMonth: figures.budgetPerMonth }),
    classes: [classOf(figures)],
    models: [modelOf(figures)],
    machines: [...machines],
    assumptions: { ...ASSUMED.efficiency },
    services: [serviceOf(figures, machines)],
  }
}

function classOf(figures: Figures): RequestClass {
  const { opening: name, ratePerSecond, day, input, promisedSeconds } = figures
  const { className, service, promises, works } = OPENINGS[name]
  const work: Size = works === 'steps' ? { kind: 'fixed', value: Math.round(input) } : spread(input)
  return {
    name: className,
    service,
    arrivals: DAYS[day].arrivals(ratePerSecond),
    ...(works === 'tokens' ? tokenSizes(figures) : { work }),
    targets: [
      { measure: promises, percentile: ASSUMED.percentile, seconds: promisedSeconds },
      ...(promises === 'ttft' ? [{ measure: 'tpot' as const, percentile: ASSUMED.percentile, seconds: ASSUMED.secondsPerToken }] : []),
      { measure: 'lost', share: ASSUMED.lostShare },
    ],
  }
}

/** The model of one's own where there is one, else the invented shape. */
function modelOf({ opening, shape, own }: Pick<Figures, 'opening' | 'shape' | 'own'>): Model {
  if (own?.from === 'speed') return modelOfSpeed(own.speed, OPENINGS[opening].works)
  if (own) return { ...own.model, activationBytes: own.model.activationBytes ?? activationBytes(own.model.parameters) }
  return SHAPES[shape].model
}

/** Where it may run, and with how many side by side: a speed holds for what it was seen on, and up to as many as were seen. */
function tried(
  { opening, own, providers }: Figures,
  machines: readonly Machine[],
): Pick<NonNullable<Service['search']>, 'machines' | 'devices' | 'sequences'> & { sequences: number[] } {
  const { sequences, devices } = OPENINGS[opening]
  if (own?.from === 'speed') {
    const { machine, sideBySide } = own.speed
    return { machines: [machine], devices: [1], sequences: [...sequences.filter((n) => n < sideBySide), sideBySide] }
  }
  const named = providers.length > 0 && { machines: machines.filter((m) => providers.includes(m.provider)).map((m) => m.name) }
  return { ...named, sequences: [...sequences], devices: [...devices] }
}

function serviceOf(figures: Figures, machines: readonly Machine[]): Service {
  const { service, purchases, inFlight, least } = OPENINGS[figures.opening]
  return {
    name: service,
    model: modelOf(figures).name,
    routing: 'least-busy',
    start: structuredClone(ASSUMED.startUp),
    policies: [
      {
        name: 'follows the load',
        min: least,
        max: ASSUMED.mostCopies,
        metrics: [{ metric: 'in-flight', target: inFlight }],
        down: { stabilisationSeconds: ASSUMED.stabilisationSeconds },
        ...(least === 0 && { idle: { seconds: ASSUMED.idleSeconds, firstCaller: 'hold' as const } }),
      },
    ],
    limits: { queue: ASSUMED.queue },
    search: { ...tried(figures, machines), purchases: [...purchases] },
  }
}
