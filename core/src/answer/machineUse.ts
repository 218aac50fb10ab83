import { isByTokens } from '../cost/purchase.ts'
import type { Meter } from '../engine/meter.ts'
import { nodeSecondsBetween, servingSeconds } from '../measure/fleetPicture.ts'
import type { Plan } from '../plan/schema.ts'
import { partsOf } from '../run/spec.ts'
import { layoutOf, workingShare } from '../service/rates.ts'
import { slotsOf } from '../service/profile.ts'
import { efficiencies } from '../service/variant.ts'
import { duration } from '../units/duration.ts'
import { percent, threeDigits } from '../units/number.ts'
import type { DetailTable } from './detailTable.ts'
import { byOffer, type FleetRun } from './fleetRuns.ts'

/** What of a machine is used, each a share of what there is. */
export const USES = {
  busy: 'time with something to do',
  sequences: 'places for requests',
  memory: 'memory',
  bandwidth: 'bandwidth reached',
  arithmetic: 'arithmetic reached',
} as const
export type Use = keyof typeof USES

/** How the machines of an offer are used over time, by all services that run on them. One entry a piece of the horizon. */
export interface MachineUse {
  machine: string
  services: string[]
  pieceSeconds: number
  /** machines that are there, averaged over the piece */
  machines: Float64Array
  /** shares of what is there, 0…1; NaN where nothing is; null where step costs do not tell it */
  uses: Record<Use, Float64Array | null>
}

export interface UseRun extends FleetRun {
  meter: Meter
}

/**
 * By offer: time in steps by the devices that are in them, requests in service by places, weights, working memory and cache by memory,
 * and what steps read and reckon by what the devices could in that time (derived step costs alone say that).
 */
export function machineUse(plan: Plan, runs: readonly UseRun[]): MachineUse[] {
  // Nobody sees the machines of what is sold by tokens.
  return byOffer(runs.filter((run) => !isByTokens(run.candidate.purchase))).map((own) => {
    const used = own.map((run) => usedBy(plan, run))
    const there = sumOf(used.map((u) => u.machineSeconds))
    const { pieceSeconds } = own[0].meter
    const share = (of: Use) =>
      used.some((u) => u[of] === null) ? null : sumOf(used.map((u) => u[of]!)).map((v, i) => (there[i] > 0 ? v / there[i] : NaN))
    return {
      machine: own[0].candidate.machine.name,
      services: own.map((r) => r.candidate.service.name),
      pieceSeconds,
      machines: there.map((s) => s / pieceSeconds),
      uses: {
        busy: share('busy'),
        sequences: share('sequences'),
        memory: share('memory'),
        bandwidth: share('bandwidth'),
        arithmetic: share('arithmetic'),
      },
    }
  })
}

/** By piece: seconds for which machines were there, and for which as many whole machines would have been used. */
type Used = Record<Use, Float64Array | null> & { machineSeconds: Float64Array }

function usedBy(plan: Plan, run: UseRun): Used {
  const { candidate, groups, life, meter } = run
  const { machine, devices, group, fit, model, variant, service } = candidate
  const { profile, replicas } = partsOf({ service, candidate, groups })
  const { pieceSeconds, busySeconds } = meter
  const pieces = busySeconds.length
  const each = (of: (i: number) => number) => Float64Array.from({ length: pieces }, (_, i) => of(i))
  const [from, until] = [(i: number) => i * pieceSeconds, (i: number) => (i + 1) * pieceSeconds]
  // Of plain cores a replica has its part of a machine; elsewhere its devices.
  const machinesEach = model.kind === 'cpu' ? group.machines / group.replicas : devices / machine.devices
  const placesEach = (slotsOf(profile) * group.replicas) / group.machines
  const serving = each((i) => (life ? servingSeconds(life, from(i), until(i), plan.horizon.seconds) : replicas * pieceSeconds))
  const memory = fit.fits ? fit.memory : undefined
  const machineBytes = machine.devices * machine.memoryBytesPerDevice
  const bytesAt = (i: number) =>
    memory === undefined
      ? 0
      : serving[i] * (memory.weightBytes + memory.activationBytes) +
        meter.cacheTokenSeconds[i] * memory.cacheBytesPerToken +
        meter.batchSeconds[i] * memory.bytesPerItem
  const isDerived = fit.fits && fit.source === 'derived' && profile.kind === 'token'
  const reached = efficiencies(variant, plan.assumptions)
  const working = workingShare({ ...layoutOf(machine, devices), split: service.split ?? 'heads' })
  return {
    machineSeconds: each((i) => group.machines * (life ? nodeSecondsBetween(life, from(i), until(i)) : groups * pieceSeconds)),
    busy: each((i) => busySeconds[i] * machinesEach),
    sequences: each((i) => meter.batchSeconds[i] / placesEach),
    memory: memory === undefined || machineBytes === 0 ? null : each((i) => bytesAt(i) / machineBytes),
    bandwidth: isDerived ? each((i) => meter.memorySeconds[i] * machinesEach * reached.memory * working) : null,
    arithmetic: isDerived ? each((i) => meter.arithmeticSeconds[i] * machinesEach * reached.arithmetic * working) : null,
  }
}

const sumOf = (lists: readonly Float64Array[]): Float64Array =>
  lists.reduce((sum, list) => sum.map((v, i) => v + list[i]), new Float64Array(lists[0].length))

/** The mean of a use while machines are there, and the piece in which it is largest; null where nothing is known or there. */
export function meanAndMost({ machines, uses }: MachineUse, use: Use): { mean: number; most: number; at: number } | null {
  const shares = uses[use]
  if (!shares) return null
  let [sum, there, at] = [0, 0, -1]
  shares.forEach((share, i) => {
    if (share !== share) return
    sum += share * machines[i]
    there += machines[i]
    if (at < 0 || share > shares[at]) at = i
  })
  return at < 0 ? null : { mean: sum / there, most: shares[at], at }
}

/** A line an offer: how many machines, and of each use the mean and the most of any piece. */
export function machineUseTable(uses: readonly MachineUse[]): DetailTable {
  const [first] = uses
  const list = Object.keys(USES) as Use[] // the record has them all
  return {
    title: `use of machines over all services: mean while they are there, and most in any ${first ? duration(first.pieceSeconds) : 'piece'}`,
    header: ['machine', 'on average', ...list.flatMap((u) => [USES[u], 'most'])],
    rows: uses.map((m) => [
      m.machine,
      threeDigits(m.machines.reduce((a, b) => a + b, 0) / m.machines.length),
      ...list.flatMap((u) => {
        const found = meanAndMost(m, u)
        return found ? [percent(found.mean), percent(found.most)] : ['–', '–']
      }),
    ]),
  }
}
