import { steadyPerHour } from '../cost/bill.ts'
import { groupPrices, purchase, purchaseName, purchasesOf, type GroupPrices, type Purchase } from '../cost/purchase.ts'
import { obtainable } from '../plan/machineSchema.ts'
import type { Configuration, Machine, Model, Plan, ScalingPolicy, Service, Variant } from '../plan/schema.ts'
import { isElastic, isPaidByRun } from './life.ts'
import { settingsOf } from './settings.ts'
import { isDropped } from '../service/constraints.ts'
import { fit, type Fit } from '../service/fit.ts'
import { groupOf, type Group } from '../service/host.ts'

/** One thing to try: everything but the number of machines. */
export interface Candidate {
  /** place in the order of enumeration, which breaks ties of cost */
  index: number
  machine: Machine
  model: Model
  variant: Variant
  /** devices per replica */
  devices: number
  /** sequences side by side, or requests in a batch */
  sequences: number
  /** the service as it is run with it */
  service: Service
  /** in what that differs from what the plan states, in words; null where in nothing */
  setting: string | null
  group: Group
  /** how the number of replicas follows the load; null for a fixed number */
  policy: ScalingPolicy | null
  purchase: Purchase
  prices: GroupPrices
  /** how many machines there are depends on the run, up to all that can be had: it is tried once, with all of them */
  elastic: boolean
  /** what is paid depends on the run; else so many machines are paid all the time */
  paysByRun: boolean
  /** groups that can be had: by stock, by quota, by the offer's ceiling or the search's limit on replicas, and that a policy may have replicas for */
  maxGroups: number
  /** the same, whatever a policy may have: who drains keeps its machine while its successor needs another */
  obtainableGroups: number
  limitedBy: 'stock' | 'quota' | 'replica ceiling' | 'replica limit' | 'maximum of the policy'
  fit: Fit
}

const DEFAULT_DEVICES = [1, 2, 4, 8]
const DEFAULT_MAX_REPLICAS = 200
/** What the plan format lets anybody state. */
const MOST_REPLICAS = 2000

/** Where a candidate stands in the order of enumeration, before anything is reckoned about it. */
type Place = Pick<Candidate, 'index' | 'machine' | 'variant' | 'devices' | 'sequences' | 'policy' | 'purchase' | 'service' | 'setting'>

/** Every candidate of a service, in a fixed order: machines, then variants, devices, settings, sequences, policies and purchases as the plan lists them. */
export function enumerate(plan: Plan, service: Service): Candidate[] {
  const model = plan.models.find((m) => m.name === service.model)
  if (!model) return []
  const make = new CandidateMaker(plan, model)
  const out: Candidate[] = []
  for (const place of placesOf(plan, service, model)) out.push(make.at(place))
  return out
}

/** Candidates of a service by their place in the enumeration, each looked at when it is asked for. */
export class CandidateList {
  private readonly make: CandidateMaker | undefined
  private readonly places: Place[]
  private readonly made = new Map<number, Candidate>()

  constructor(plan: Plan, service: Service) {
    const model = plan.models.find((m) => m.name === service.model)
    this.make = model && new CandidateMaker(plan, model)
    this.places = model ? [...placesOf(plan, service, model)] : []
  }

  /** @throws RangeError when there is no such place */
  at(index: number): Candidate {
    const place = this.places.at(index)
    if (!this.make || index < 0 || !place) throw new RangeError(`there is no candidate ${index}`)
    const candidate = this.made.get(index) ?? this.make.at(place)
    this.made.set(index, candidate)
    return candidate
  }
}

/** How many candidates the services of a plan have, none of them looked at. */
export function countCandidates(plan: Plan): number {
  return plan.services.reduce((sum, service) => {
    const model = plan.models.find((m) => m.name === service.model)
    if (!model) return sum
    let n = 0
    for (const _ of placesOf(plan, service, model)) n++
    return sum + n
  }, 0)
}

/** The candidate of a service that a name means. */
export function candidateOf(plan: Plan, service: Service, name: { machine: string; variant: string; devices: number; sequences: number; policy: string | null; purchase: string; setting?: string | null }): Candidate | undefined {
  const model = plan.models.find((m) => m.name === service.model)
  if (!model) return undefined
  for (const place of placesOf(plan, service, model)) {
    const { machine, variant, devices, sequences, policy, purchase, setting } = place
    if (machine.name !== name.machine || variant.name !== name.variant || devices !== name.devices || sequences !== name.sequences || (policy?.name ?? null) !== name.policy || purchaseName(purchase) !== name.purchase || setting !== (name.setting ?? null)) continue
    return new CandidateMaker(plan, model).at(place)
  }
  return undefined
}

/**
 * The candidate that a service states, whatever its search would try: no number of replicas limits it but what can be had.
 *
 * @returns undefined when model, machine or variant are not in the plan
 */
export function statedCandidate(plan: Plan, service: Service, configuration: Configuration): Candidate | undefined {
  const model = plan.models.find((m) => m.name === service.model)
  const machine = plan.machines.find((m) => m.name === configuration.machine)
  const variant = model?.variants.find((v) => v.name === configuration.variant)
  if (!model || !machine || !variant) return undefined
  const policy = service.policies?.find((p) => p.name === configuration.policy) ?? null
  const run: Service = { ...service, search: { ...service.search, sequences: [configuration.sequences], maxReplicas: MOST_REPLICAS } }
  return new CandidateMaker(plan, model).at({
    index: 0, machine, variant, policy, service: run, setting: null, devices: model.kind === 'cpu' ? 1 : (configuration.devices ?? 1),
    sequences: configuration.sequences, purchase: purchase(configuration.purchase ?? 'on-demand', configuration.safeShare),
  })
}

function* placesOf(plan: Plan, service: Service, model: Model): Generator<Place> {
  const { search } = service
  if (!search) return
  let index = 0
  const settings = settingsOf(service)
  for (const machine of plan.machines) {
    const purchases = purchasesOf(service, machine)
    for (const variant of model.variants) {
      for (const devices of deviceCounts(search.devices, machine, model)) {
        if (isDropped(service, machine, variant, devices)) continue
        for (const { service: run, name: setting } of settings) {
          // Within one machine there is one way of dividing a replica.
          if (devices <= machine.devices && run.split !== service.split) continue
          for (const sequences of search.sequences) {
            for (const policy of [null, ...(service.policies ?? [])]) {
              // Calls bring their own instances: there is nothing that a policy could scale.
              for (const purchase of purchases.filter((p) => p.kind !== 'per-request' || policy === null)) yield { index: index++, machine, variant, devices, service: run, setting, sequences, policy, purchase }
            }
          }
        }
      }
    }
  }
}

/** Makes candidates in the order of the enumeration: what the last one shares with the next is found once. */
class CandidateMaker {
  private readonly plan: Plan
  private readonly model: Model
  private last: { place: Place; fitting: Fit } | undefined
  private priced: { of: object; sequences: number; group: Group; prices: GroupPrices; fit: Fit } | undefined

  constructor(plan: Plan, model: Model) {
    this.plan = plan
    this.model = model
  }

  at(place: Place): Candidate {
    const { model } = this
    const { index, service, setting, machine, variant, devices, sequences, policy, purchase } = place
    const { fitting } = (this.last = this.sharedWith(place))
    if (this.priced?.of !== fitting || this.priced.sequences !== sequences) {
      const group = groupOf(service, model, machine, devices, sequences)
      this.priced = { of: fitting, sequences, group, fit: withSequences(fitting, sequences), prices: groupPrices(this.plan, service, model, variant, machine, { machines: group.machines, devices, sequences }) }
    }
    const { group, prices, fit } = this.priced
    const { obtainableGroups, ...limits } = mostGroups(place, group)
    return { index, machine, model, variant, devices, sequences, service, setting, group, policy, purchase, prices, elastic: isElastic(place), paysByRun: isPaidByRun(service, policy, purchase), obtainableGroups, ...limits, fit }
  }

  private sharedWith(place: Place): NonNullable<CandidateMaker['last']> {
    const { plan, model, last } = this
    const { service, machine, variant, devices } = place
    if (last && last.place.machine === machine && last.place.variant === variant && last.place.devices === devices && last.place.service === service) return last
    return { place, fitting: fit(plan, service, model, variant, machine, devices) }
  }
}

/** A placement with room for fewer requests side by side than are asked for does not fit as asked. */
function withSequences(fitting: Fit, sequences: number): Fit {
  if (!fitting.fits || sequences <= fitting.mostSequences) return fitting
  const { memory, mostSequences: most, boundBy } = fitting
  return { fits: false, misfit: { kind: 'sequences', asked: sequences, most, boundBy }, ...(memory && { memory }) }
}

type Limit = [Candidate['limitedBy'], number]

function mostGroups({ service, machine, policy }: Place, group: Group): Pick<Candidate, 'maxGroups' | 'obtainableGroups' | 'limitedBy'> {
  const byReplicas = (most: number) => Math.floor(most / group.replicas)
  const obtained = least([
    ['stock', Math.floor(machine.stock / group.machines)],
    ['quota', Math.floor(obtainable(machine) / group.machines)],
    ['replica ceiling', byReplicas(machine.ceilings?.replicas ?? Infinity)],
    ['replica limit', byReplicas(service.search?.maxReplicas ?? DEFAULT_MAX_REPLICAS)],
  ])
  const [limitedBy, maxGroups] = least([obtained, ['maximum of the policy', policy ? Math.ceil(policy.max / group.replicas) : Infinity]])
  return { maxGroups, limitedBy, obtainableGroups: obtained[1] }
}

const least = (limits: Limit[]): Limit => limits.reduce((a, b) => (b[1] < a[1] ? b : a))

/** Device counts that were asked for; of the default ones only those that a machine has. A CPU model has nothing to do with devices. */
export function deviceCounts(asked: readonly number[] | undefined, machine: Machine, model: Model): number[] {
  if (model.kind === 'cpu') return [1]
  return asked ? [...asked] : DEFAULT_DEVICES.filter((d) => d <= machine.devices)
}

/** Cost per hour of a number of groups that are there all the time; the least of it where some may be taken away. */
export function costPerHour(candidate: Pick<Candidate, 'purchase' | 'prices'>, groups: number): number {
  return steadyPerHour(candidate, groups)
}

/** Machines and replicas of a number of groups. */
export function fleetOf({ group }: Pick<Candidate, 'group'>, groups: number): { machines: number; replicas: number } {
  return { machines: groups * group.machines, replicas: groups * group.replicas }
}

/** Options that differ only in their sequence limit or setting are one option to a person who reads the answer. */
export function optionKey(candidate: Candidate): string {
  return JSON.stringify([candidate.machine.name, candidate.variant.name, candidate.devices, candidate.policy?.name ?? null, purchaseName(candidate.purchase)])
}

/** Where a candidate is and how it is paid, whatever the number of its replicas and how it follows the load. */
export function placeKey(candidate: Candidate): string {
  return JSON.stringify([candidate.machine.name, candidate.variant.name, candidate.devices, purchaseName(candidate.purchase)])
}
