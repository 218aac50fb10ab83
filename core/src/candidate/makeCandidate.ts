import { groupPrices, isByCall, type GroupPrices } from '../cost/purchase.ts'
import { obtainable } from '../plan/machineSchema.ts'
import { MOST_REPLICAS } from '../plan/primitives.ts'
import type { Model, Plan } from '../plan/schema.ts'
import { fit, type Fit } from '../service/fit.ts'
import { groupOf, type Group } from '../service/host.ts'
import type { Candidate, LimitedBy } from './candidate.ts'
import { isElastic, isPaidByRun } from './paidByRun.ts'

const DEFAULT_MAX_REPLICAS = 200

/** Where a candidate stands in the order of enumeration, before anything is reckoned about it. */
export type Entry = Pick<
  Candidate,
  'index' | 'machine' | 'variant' | 'devices' | 'sequences' | 'policy' | 'purchase' | 'service' | 'setting'
> & {
  /** of what is stated: the fixed number of its replicas */
  statedReplicas?: number
}

/** Makes candidates in the order of the enumeration: what the last one shares with the next is found once. */
export class CandidateMaker {
  private readonly plan: Plan
  private readonly model: Model
  private last: { entry: Entry; fitting: Fit } | undefined
  private priced: { of: object; sequences: number; group: Group; prices: GroupPrices; fit: Fit } | undefined

  constructor(plan: Plan, model: Model) {
    this.plan = plan
    this.model = model
  }

  at(entry: Entry): Candidate {
    const { model } = this
    const { index, service, setting, machine, variant, devices, sequences, policy, purchase } = entry
    const { fitting } = (this.last = this.sharedWith(entry))
    if (this.priced?.of !== fitting || this.priced.sequences !== sequences) {
      const group = groupOf(service, model, machine, devices, sequences)
      this.priced = {
        of: fitting,
        sequences,
        group,
        fit: withSequences(fitting, sequences),
        prices: groupPrices(this.plan, service, model, variant, machine, { machines: group.machines, devices, sequences }),
      }
    }
    const { group, prices, fit } = this.priced
    const { obtainableGroups, ...limits } = mostGroups(entry, group)
    return {
      index,
      machine,
      model,
      variant,
      devices,
      sequences,
      service,
      setting,
      group,
      policy,
      purchase,
      prices,
      elastic: isElastic(entry),
      paysByRun: isPaidByRun(service, policy, purchase),
      unusedReplicas: unusedOf(entry, group),
      obtainableGroups,
      ...limits,
      fit,
    }
  }

  private sharedWith(entry: Entry): NonNullable<CandidateMaker['last']> {
    const { plan, model, last } = this
    const { service, machine, variant, devices } = entry
    if (
      last &&
      last.entry.machine === machine &&
      last.entry.variant === variant &&
      last.entry.devices === devices &&
      last.entry.service === service
    )
      return last
    return { entry, fitting: fit(plan, service, model, variant, machine, devices) }
  }
}

/** A placement with room for fewer requests side by side than are asked for does not fit as asked. */
function withSequences(fitting: Fit, sequences: number): Fit {
  if (!fitting.fits || sequences <= fitting.mostSequences) return fitting
  const { memory, mostSequences: most, boundBy } = fitting
  return { fits: false, misfit: { kind: 'sequences', asked: sequences, most, boundBy }, ...(memory && { memory }) }
}

/** Machines come whole: the last one may have room for more replicas than are stated. */
function unusedOf({ statedReplicas, policy }: Entry, group: Group): number {
  if (statedReplicas === undefined || policy) return 0
  return Math.ceil(statedReplicas / group.replicas) * group.replicas - statedReplicas
}

type Limit = [LimitedBy, number]

function mostGroups(
  { service, machine, policy, purchase, statedReplicas = Infinity }: Entry,
  group: Group,
): Pick<Candidate, 'maxGroups' | 'obtainableGroups' | 'limitedBy'> {
  // What is sold by tokens is one thing, whoever asks for more of it.
  if (machine.sold) return { maxGroups: 1, obtainableGroups: 1, limitedBy: 'one key' }
  const byReplicas = (most: number) => Math.floor(most / group.replicas)
  const obtained = least([
    ['stock', Math.floor(machine.stock / group.machines)],
    ['quota', Math.floor(obtainable(machine) / group.machines)],
    ['replica ceiling', byReplicas(machine.ceilings?.replicas ?? Infinity)],
    // Calls bring instances of their own, up to as many as are stated.
    ['replica limit', isByCall(purchase) ? Math.ceil(statedReplicas / group.replicas) : Infinity],
    ['replica limit', byReplicas(service.search ? (service.search.maxReplicas ?? DEFAULT_MAX_REPLICAS) : MOST_REPLICAS)],
  ])
  const [limitedBy, maxGroups] = least([obtained, ['maximum of the policy', policy ? Math.ceil(policy.max / group.replicas) : Infinity]])
  return { maxGroups, limitedBy, obtainableGroups: obtained[1] }
}

const least = (limits: Limit[]): Limit => limits.reduce((a, b) => (b[1] < a[1] ? b : a))
