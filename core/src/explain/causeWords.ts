import type { Cause } from '../life/cause.ts'
import { METRICS } from '../plan/ways.ts'

const WORDS: Record<Extract<Cause, string>, string> = {
  start: 'the start',
  minimum: 'the minimum',
  schedule: 'the schedule',
  expected: 'what is expected',
  'within-tolerance': 'within the tolerance',
  'enough-starting': 'enough are starting',
  'none-wanted': 'no more are wanted',
  'nothing-to-go-by': 'nothing to go by',
  'first-caller': 'the first caller',
  'keep-awake-call': 'a call that keeps it awake',
  'caller-without-room': 'a caller who found no room',
  'nobody-called': 'nobody called',
  'nobody-came': 'nobody came',
  fault: 'a fault',
  drill: 'a drill',
  'machine-noticed': 'its machine is taken away',
  'machine-lost': 'its machine was lost',
  'stage-done': 'the stage before it is done',
  'fewer-wanted': 'fewer are wanted',
  'grace-over': 'the grace was over',
  'all-done': 'all that it had is done',
  'timed-out': 'the start-up took longer than its time-out',
}

/** Why something happened to a fleet. @example 'requests in flight at 140 % of its target' */
export function causeWords(cause: Cause): string {
  if (typeof cause === 'string') return WORDS[cause]
  if ('metric' in cause) return `${METRICS[cause.metric].words} at ${cause.percent} % of its target`
  return 'inPlaceOf' in cause ? `in place of one: ${WORDS[cause.inPlaceOf]}` : `machine in ${Math.round(cause.machineInSeconds)} s`
}
