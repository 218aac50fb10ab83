import type { LossRules } from './startRules.ts'

/** One step of a drill: a replica is lost, a machine is told, a machine is lost. */
export interface DrillStep {
  seconds: number
  what: 'replica' | 'notice' | 'node'
  number: number
  /** when the machine is lost */
  lostAt: number
}

/** Drills in order of time (docs/model.md, 7); machines are told as long before as they are of other losses. */
export class Drills {
  private readonly steps: readonly DrillStep[]
  private done = 0

  constructor({ drills, noticeSeconds }: Pick<LossRules, 'drills' | 'noticeSeconds'>) {
    this.steps = drills
      .flatMap(({ seconds, what, number }): DrillStep[] => [
        ...(what === 'node' && noticeSeconds > 0
          ? [{ seconds: Math.max(0, seconds - noticeSeconds), what: 'notice', number, lostAt: seconds } as const]
          : []),
        { seconds, what, number, lostAt: seconds },
      ])
      .sort((a, b) => a.seconds - b.seconds)
  }

  /** When the next step is; Infinity after the last. */
  next(): number {
    return this.steps[this.done]?.seconds ?? Infinity
  }

  /** The next step that is due, once; undefined where none is. */
  takeDue(now: number): DrillStep | undefined {
    return this.next() <= now ? this.steps[this.done++] : undefined
  }
}
