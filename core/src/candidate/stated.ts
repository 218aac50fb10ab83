import { purchase } from '../cost/purchase.ts'
import type { Configuration, Machine, Model, Plan, ProfileSpec, Service } from '../plan/schema.ts'
import { MOST_REPLICAS } from '../plan/primitives.ts'
import { offerOf } from '../plan/soldOffer.ts'
import type { Entry } from './makeCandidate.ts'

/** The one place that a configuration states, and what runs there. */
export interface StatedPlace {
  model: Model
  entry: Entry
}

/** Where a stated configuration stands; undefined when model, machine or variant are not in the plan. */
export function statedPlace(plan: Plan, service: Service, configuration: Configuration): StatedPlace | undefined {
  const { profile } = configuration
  const model = plan.models.find((m) => m.name === service.model)
  if (profile) return placeOf(givenModel(service, model, profile), givenMachine(configuration), alone(service), configuration)
  const sold = plan.soldByTokens?.find((s) => s.name === configuration.machine)
  if (sold) return model && placeOf(model, offerOf(sold), boughtByTokens(service), configuration)
  const machine = plan.machines.find((m) => m.name === configuration.machine)
  return model && machine && placeOf(model, machine, service, configuration)
}

function placeOf(model: Model, machine: Machine, service: Service, configuration: Configuration): StatedPlace | undefined {
  const { sequences, replicas, devices = 1 } = configuration
  const variant = configuration.profile ? model.variants[0] : model.variants.find((v) => v.name === configuration.variant)
  return (
    variant && {
      model,
      entry: {
        index: 0,
        machine,
        variant,
        policy: service.policies?.find((p) => p.name === configuration.policy) ?? null,
        service: unlimited(service),
        setting: null,
        devices: model.kind === 'cpu' ? 1 : devices,
        sequences,
        purchase: purchase(configuration.purchase ?? 'on-demand', configuration.safeShare),
        statedReplicas: replicas,
      },
    }
  )
}

/** No number of replicas limits what is stated but what can be had, whatever a search would try. */
const unlimited = (service: Service): Service =>
  service.search ? { ...service, search: { ...service.search, maxReplicas: MOST_REPLICAS } } : service

/** What is not rented has no host, starts as a whole and is never lost. */
function alone({ start: _, nodes: __, losses: ___, host: ____, ...service }: Service): Service {
  return service
}

/** A service as it is run on something sold by tokens: nothing starts up. */
export function boughtByTokens(service: Service): Service {
  return { ...alone(service), startupSeconds: 0 }
}

/** The provider of what is not rented. */
export const AS_STATED = 'as stated'
/** What is called a machine where a service states its own step costs. */
export const GIVEN_REPLICA = 'replica with given step costs'

/** Whether it is known what a candidate costs: a replica with given step costs may state no price. */
export function isPriced({ machine, service }: { machine: Pick<Machine, 'name'>; service: Service }): boolean {
  return machine.name !== GIVEN_REPLICA || service.configuration?.pricePerReplicaHour !== undefined
}

/** Where one replica of a service may be put: machines and variants, by name. */
export function namesOfPlaces(plan: Plan, service: Service): { machines: string[]; variants: string[] } {
  const model = plan.models.find((m) => m.name === service.model)
  const given = service.configuration?.profile !== undefined
  return {
    machines: [...(given ? [GIVEN_REPLICA] : []), ...(model ? plan.machines.map((m) => m.name) : [])],
    variants: [...(given ? [AS_STATED] : []), ...(model?.variants ?? []).map((v) => v.name)],
  }
}

/** The configuration of one replica at a place, on demand. */
export function oneReplicaAt(
  { configuration }: Service,
  { machine, variant, devices, sequences }: { machine: string; variant: string; devices: number; sequences: number },
): Configuration {
  if (machine === GIVEN_REPLICA && configuration?.profile) return { ...configuration, sequences, replicas: 1 }
  return { machine, variant, devices, sequences, replicas: 1, purchase: 'on-demand' }
}

function givenModel(service: Service, model: Model | undefined, profile: ProfileSpec): Model {
  return {
    kind: 'given',
    name: service.model ?? AS_STATED,
    ...(model && 'contextTokens' in model && { contextTokens: model.contextTokens }),
    variants: [{ name: AS_STATED, profiles: [{ profile }] }],
  }
}

/** One replica as something that can be rented: nothing is known of it but its price, which is 0 where none is stated. */
function givenMachine({ pricePerReplicaHour = 0 }: Configuration): Machine {
  return {
    name: GIVEN_REPLICA,
    provider: AS_STATED,
    region: AS_STATED,
    device: 'replica',
    devices: 1,
    memoryBytesPerDevice: Number.MAX_SAFE_INTEGER,
    bandwidthBytesPerSecond: 1,
    arithmeticPerSecond: {},
    pricePerHour: pricePerReplicaHour,
    stock: MOST_REPLICAS,
  }
}
