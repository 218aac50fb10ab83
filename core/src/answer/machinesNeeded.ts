import { whereWords } from '../explain/whereWords.ts'
import type { Plan } from '../plan/schema.ts'
import { diskBytesOf, isRented } from '../cost/purchase.ts'
import { byOffer, type FleetRun } from './fleetRuns.ts'
import { bytes } from '../units/bytes.ts'
import { clock } from '../units/duration.ts'

/** The most machines of an offer that are there at one moment, over all services that are run on it. */
export interface MachinesNeeded {
  machine: string
  provider: string
  region: string
  zone?: string
  services: string[]
  most: number
  /** when there are so many for the first time, seconds of the horizon */
  atSeconds: number
  stock: number
  quota: number | null
  /** that each needs for image and kept weights of what runs on it, the largest; 0 where nothing is known of that */
  diskBytes: number
}

/** What has to be asked for: by offer, in the order of the runs. One that is lost and its successor may both be there. */
export function machinesNeeded(runs: readonly FleetRun[]): MachinesNeeded[] {
  // Calls bring instances of their own, and tokens need none: nobody is asked for them.
  const asked = runs.filter((run) => isRented(run.candidate.purchase))
  return byOffer(asked).map((own) => {
    const { name, provider, region, zone, stock, quota } = own[0].candidate.machine
    const { most, atSeconds } = mostAt(own.flatMap(changesOf))
    return {
      machine: name,
      provider,
      region,
      ...(zone !== undefined && { zone }),
      services: own.map((r) => r.candidate.service.name),
      most,
      atSeconds,
      stock,
      quota: quota ?? null,
      diskBytes: Math.max(...own.map(({ candidate: { service, model, variant } }) => diskBytesOf(service, model, variant))),
    }
  })
}

interface Change {
  at: number
  by: number
}

function changesOf({ candidate, groups, life }: FleetRun): Change[] {
  const { machines } = candidate.group
  if (!life || life.nodes.length === 0) return life ? [] : [{ at: 0, by: groups * machines }]
  return life.nodes.flatMap(({ from, until }) => [
    { at: from, by: machines },
    { at: until, by: -machines },
  ])
}

/** Who goes at an instant has gone before who comes at it. */
function mostAt(changes: readonly Change[]): { most: number; atSeconds: number } {
  let [now, most, atSeconds] = [0, 0, 0]
  for (const { at, by } of changes.toSorted((a, b) => a.at - b.at || a.by - b.by)) {
    now += by
    if (now > most) [most, atSeconds] = [now, at]
  }
  return { most, atSeconds }
}

/** What has to be asked for, whom, where and before when: a sentence an offer, without a full stop. */
export function neededWords(plan: Pick<Plan, 'horizon'>, needed: readonly MachinesNeeded[]): string[] {
  return needed.map(({ machine, most, atSeconds, stock, quota, services, diskBytes, ...where }) => {
    const until = atSeconds <= 0 ? 'before it begins' : `before ${clock(plan.horizon.start, atSeconds)}`
    const all = most >= Math.min(stock, quota ?? Infinity)
    const rest = quota === null ? `${stock} can be had at once` : `${stock} can be had at once, and the account may have ${quota}`
    const disk = diskBytes > 0 ? `, each with ${bytes(diskBytes)} of disk` : ''
    return `${where.provider} has to be asked for ${most} × ${machine} (${whereWords(where)})${disk} ${until}, for ${services.join(' and ')}: ${rest}${all ? ', so that nothing is left' : ''}`
  })
}
