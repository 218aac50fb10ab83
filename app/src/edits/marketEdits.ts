import type { Machine, Measurement, Model, Plan, ProfileSpec, Service, Sold, Variant } from '@sandclock/core'
import { freeName, type Edit } from './edits.ts'

/** Changes one machine; a new name goes wherever the old one stood. */
export function editMachine(name: string, change: (m: Machine) => Machine): Edit {
  return (plan) => {
    const before = plan.machines.find((m) => m.name === name)
    if (!before) return plan
    const after = change(before)
    const machines = plan.machines.map((m) => (m.name === name ? after : m))
    return after.name === name ? { ...plan, machines } : renamed({ ...plan, machines }, name, after.name)
  }
}

/** A plan in which everything that meant the offer `from` means `to`. */
export function renamed(plan: Plan, from: string, to: string): Plan {
  const place = <T extends { machine?: string | undefined }>(entry: T): T => (entry.machine === from ? { ...entry, machine: to } : entry)
  return {
    ...plan,
    services: plan.services.map((s) => pointing(s, (machines) => machines.map((m) => (m === from ? to : m)), place)),
    // Only entries of variants change.
    models: plan.models.map((m) => ({ ...m, variants: m.variants.map((v) => measuredAt(v, place)) })) as Model[],
  }
}

function measuredAt(v: Variant, place: <T extends { machine?: string | undefined }>(entry: T) => T): Variant {
  return {
    ...v,
    ...(v.profiles && { profiles: v.profiles.map(place) }),
    ...(v.measurements && { measurements: v.measurements.map(place) }),
  }
}

function onlyAt(v: Variant, stays: (entry: { machine?: string | undefined }) => boolean): Variant {
  return {
    ...v,
    ...(v.profiles && { profiles: v.profiles.filter(stays) }),
    ...(v.measurements && { measurements: v.measurements.filter(stays) }),
  }
}

function pointing(
  s: Service,
  names: (machines: string[]) => string[],
  place: <T extends { machine?: string | undefined }>(entry: T) => T,
): Service {
  const { search, configuration } = s
  return {
    ...s,
    ...(search && {
      search: {
        ...search,
        ...(search.machines && { machines: names(search.machines) }),
        ...(search.without && { without: search.without.map(place) }),
      },
    }),
    ...(configuration && { configuration: place(configuration) }),
  }
}

/** Takes machines out, and what the search said and what was measured of them. A service that would then search no machine searches all. */
export function removeMachines(gone: readonly string[]): Edit {
  const stays = ({ machine }: { machine?: string | undefined }) => machine === undefined || !gone.includes(machine)
  return (plan) => ({
    ...plan,
    machines: plan.machines.filter((m) => !gone.includes(m.name)),
    models: plan.models.map((m) => ({ ...m, variants: m.variants.map((v) => onlyAt(v, stays)) })) as Model[], // only entries of variants go
    services: plan.services.map((s) => {
      if (!s.search) return s
      const { machines, without, ...rest } = s.search
      const left = machines?.filter((m) => !gone.includes(m)) ?? []
      const kept = without?.filter((w) => !gone.includes(w.machine)) ?? []
      return { ...s, search: { ...rest, ...(left.length > 0 && { machines: left }), ...(kept.length > 0 && { without: kept }) } }
    }),
  })
}

/** A machine like the given one, after it, with a name of its own; a plain one in an empty catalogue. */
export function copyMachine(name: string | undefined): Edit {
  return (plan) => {
    const like = plan.machines.find((m) => m.name === name) ?? plan.machines.at(-1) ?? PLAIN
    const copy = { ...like, name: freeName(`another ${like.name}`, plan.machines) }
    const at = plan.machines.indexOf(like) + 1
    return { ...plan, machines: [...plan.machines.slice(0, at), copy, ...plan.machines.slice(at)] }
  }
}

const PLAIN: Machine = {
  name: 'machine',
  provider: 'provider',
  region: 'region',
  device: 'device',
  devices: 1,
  memoryBytesPerDevice: 24e9,
  bandwidthBytesPerSecond: 0.5e12,
  arithmeticPerSecond: { '16': 100e12 },
  pricePerHour: 1,
  stock: 1,
}

/** Takes a catalogue in: machines of the same name are replaced, others come after; or all that were there go. */
export function takeCatalogue(machines: readonly Machine[], wholly: boolean): Edit {
  return (plan) => {
    const byName = new Map(machines.map((m) => [m.name, m]))
    const kept = plan.machines.map((m) => byName.get(m.name) ?? m)
    const merged = [...kept, ...machines.filter((m) => !plan.machines.some((p) => p.name === m.name))]
    const gone = wholly ? plan.machines.filter((m) => !byName.has(m.name)).map((m) => m.name) : []
    return removeMachines(gone)({ ...plan, machines: merged })
  }
}

/** Adds a model, or exchanges the one of its name. */
export function takeModel(model: Model): Edit {
  return (plan) => ({
    ...plan,
    models: plan.models.some((m) => m.name === model.name)
      ? plan.models.map((m) => (m.name === model.name ? model : m))
      : [...plan.models, model],
  })
}

export function editModel(name: string, change: (m: Model) => Model): Edit {
  return (plan) => ({ ...plan, models: plan.models.map((m) => (m.name === name ? change(m) : m)) })
}

/** Renames a model, and what runs it. */
export function renameModel(from: string, to: string): Edit {
  return (plan) => ({
    ...withSold(editModel(from, (m) => ({ ...m, name: to }))(plan), (list) =>
      list.map((s) => (s.model === from ? { ...s, model: to } : s)),
    ),
    services: plan.services.map((s) => (s.model === from ? { ...s, model: to } : s)),
  })
}

/** Renames a variant, wherever it is named. */
export function renameVariant(modelName: string, from: string, to: string): Edit {
  const named = <T extends { variant?: string | undefined }>(entry: T): T => (entry.variant === from ? { ...entry, variant: to } : entry)
  return (plan) => ({
    ...withSold(editVariant(modelName, from, (v) => ({ ...v, name: to }))(plan), (list) =>
      list.map((s) => (s.model === modelName ? named(s) : s)),
    ),
    services: plan.services.map((s) => {
      if (s.model !== modelName) return s
      const { search, configuration } = s
      return {
        ...s,
        ...(configuration && { configuration: named(configuration) }),
        ...(search && {
          search: {
            ...search,
            ...(search.variants && { variants: search.variants.map((v) => (v === from ? to : v)) }),
            ...(search.without && { without: search.without.map(named) }),
          },
        }),
      }
    }),
  })
}

/** A model like the given one, after it, with a name of its own. */
export function copyModel(name: string): Edit {
  return (plan) => ({
    ...plan,
    models: plan.models.flatMap((m) => (m.name === name ? [m, { ...m, name: freeName(`another ${name}`, plan.models) }] : [m])),
  })
}

export const removeModel =
  (name: string): Edit =>
  (plan) => ({ ...withSold(plan, (list) => list.filter((s) => s.model !== name)), models: plan.models.filter((m) => m.name !== name) })

/** A plan in which something else is sold by tokens; no list where nothing is. What serves a model or variant goes with it. */
export function withSold({ soldByTokens = [], ...plan }: Plan, change: (list: readonly Sold[]) => readonly Sold[]): Plan {
  const list = change(soldByTokens)
  return { ...plan, ...(list.length > 0 && { soldByTokens: [...list] }) }
}

export function editVariant(modelName: string, variantName: string, change: (v: Variant) => Variant): Edit {
  return editModel(modelName, (m) => ({ ...m, variants: m.variants.map((v) => (v.name === variantName ? change(v) : v)) }))
}

/** A variant like the given one, with a name of its own and nothing that was measured or judged of the other. */
export function copyVariant(modelName: string, variantName: string): Edit {
  return editModel(modelName, (m) => ({
    ...m,
    variants: m.variants.flatMap((v) => {
      if (v.name !== variantName) return [v]
      const { measurements: _, quality: __, profiles, ...like } = v
      const typed = profiles?.filter((p) => p.measured === undefined)
      return [v, { ...like, ...(typed?.length && { profiles: typed }), name: freeName(`another ${v.name}`, m.variants) }]
    }),
  }))
}

export function removeVariant(modelName: string, variantName: string): Edit {
  return (plan) => {
    const next = editModel(modelName, (m) =>
      m.variants.length > 1 ? { ...m, variants: m.variants.filter((v) => v.name !== variantName) } : m,
    )(plan)
    const isLeft = next.models.some((m) => m.name === modelName && m.variants.some((v) => v.name === variantName))
    return {
      ...withSold(next, (list) => list.filter((s) => isLeft || s.model !== modelName || s.variant !== variantName)),
      services: next.services.map((s) => {
        if (s.model !== modelName || !s.search?.variants?.includes(variantName)) return s
        const { variants, ...search } = s.search
        const left = variants.filter((v) => v !== variantName)
        return { ...s, search: left.length > 0 ? { ...search, variants: left } : search }
      }),
    }
  }
}

/** Puts a load test to a variant, in place of one for the same machine and devices. */
export function takeMeasurement(modelName: string, variantName: string, measurement: Measurement): Edit {
  return editVariant(modelName, variantName, (v) => ({
    ...v,
    measurements: [
      ...(v.measurements ?? []).filter((m) => m.machine !== measurement.machine || (m.devices ?? 1) !== (measurement.devices ?? 1)),
      measurement,
    ],
  }))
}

export function removeMeasurement(modelName: string, variantName: string, machine: string, devices: number): Edit {
  return editVariant(modelName, variantName, (v) => {
    const { measurements, ...rest } = v
    const left = (measurements ?? []).filter((m) => m.machine !== machine || (m.devices ?? 1) !== devices)
    return left.length > 0 ? { ...rest, measurements: left } : rest
  })
}

/** Types coefficients in for one machine and device count; they come before those that hold everywhere. */
export function takeProfile(modelName: string, variantName: string, machine: string, devices: number, profile: ProfileSpec): Edit {
  return editVariant(modelName, variantName, (v) => ({
    ...v,
    profiles: [{ machine, ...(devices > 1 && { devices }), profile }, ...otherProfiles(v, machine, devices)],
  }))
}

/** Forgets typed coefficients of one machine and device count. */
export function removeProfile(modelName: string, variantName: string, machine: string, devices: number): Edit {
  return editVariant(modelName, variantName, (v) => {
    const { profiles: _, ...rest } = v
    const left = otherProfiles(v, machine, devices)
    return left.length > 0 ? { ...rest, profiles: left } : rest
  })
}

const otherProfiles = (v: Variant, machine: string, devices: number) =>
  (v.profiles ?? []).filter((p) => p.machine !== machine || (p.devices ?? 1) !== devices)
