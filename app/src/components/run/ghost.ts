import type { Timeline } from '@sandclock/core'

/** A run as it is shown: over which time, of which service, which of its runs, and of which state of the plan. */
export interface Shown {
  timeline: Pick<Timeline, 'fromSeconds' | 'untilSeconds'>
  of: { key: string; name: { service: string } }
  /** counts states of the plan */
  generation: number
}

/**
 * What stays behind what is shown now: what was shown before the last change of the plan or of the run, where both are of the same service
 * and time. To ask for the same again changes nothing.
 *
 * @param behind what stands there already
 */
export function ghostOf<T extends Shown>(before: T | null, now: Shown, behind: T | null): T | null {
  const sameTime = (a: Shown) =>
    a.timeline.fromSeconds === now.timeline.fromSeconds && a.timeline.untilSeconds === now.timeline.untilSeconds
  if (!before || before.of.name.service !== now.of.name.service || !sameTime(before)) return null
  return before.of.key === now.of.key && before.generation === now.generation ? behind : before
}
