import type { WaitClocks } from './fleet.ts'
import { Stage, type StageCode } from './startRules.ts'

/** A numbered place for a replica: one that is gone leaves its number to the next. */
export interface Slot {
  stage: StageCode
  node: number
  /** when the stage ends, or the replica is lost; Infinity while a read or nothing decides */
  due: number
  /** when a start-up is given up */
  giveUpAt: number
  lostAt: number
  /** how many replicas had this number before */
  lives: number
  /** the fleet began with it */
  first: boolean
  /** it is a copy that runs and only loads its model again */
  reloads: boolean
}

export const emptySlot = (lives: number): Slot => ({
  stage: Stage.none,
  node: -1,
  due: Infinity,
  giveUpAt: Infinity,
  lostAt: Infinity,
  lives,
  first: false,
  reloads: false,
})

/** Replicas that are there or on their way, those that drain left out. */
export function currentOf(slots: readonly Slot[]): number {
  let current = 0
  for (const { stage } of slots) if (stage !== Stage.none && stage !== Stage.draining) current++
  return current
}

/** Who goes first when there are too many: the earliest stage, of one stage the highest number; −1 for nobody. */
export function leastMissed(slots: readonly Slot[]): number {
  let best = -1
  slots.forEach((s, r) => {
    if (s.stage === Stage.none || s.stage === Stage.draining) return
    if (best < 0 || s.stage <= slots[best].stage) best = r
  })
  return best
}

/** Seconds in which callers wait for capacity: for a machine while nothing is further along, for a start-up otherwise. */
export class SlotClocks {
  private at = 0
  private sums: WaitClocks = { machineSeconds: 0, startUpSeconds: 0 }

  /** The clocks now, the slots being as they were since they were last run. */
  read(slots: readonly Slot[], now: number): WaitClocks {
    const seconds = now - this.at
    const starting = slots.some((s) => s.stage >= Stage.image && s.stage <= Stage.warmup)
    // Who is not placed has no machine that might come: all that can be had are there, or on their way for others.
    const waiting = !starting && slots.some((s) => s.stage === Stage.machine)
    return {
      machineSeconds: this.sums.machineSeconds + (waiting ? seconds : 0),
      startUpSeconds: this.sums.startUpSeconds + (starting ? seconds : 0),
    }
  }

  /** Takes in the time until now, before the slots change. */
  run(slots: readonly Slot[], now: number): void {
    this.sums = this.read(slots, now)
    this.at = now
  }
}
