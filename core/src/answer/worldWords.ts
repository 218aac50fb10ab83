import { bare, percent } from '../units/number.ts'
import { doubtOf, type Doubted } from '../world/worldOf.ts'
import type { Plan } from '../plan/schema.ts'
import type { WorldsReport } from './worlds.ts'

const NAMES: Record<Doubted, string> = {
  bandwidth: 'the bandwidth of the machine',
  arithmetic: 'the arithmetic of the machine',
  launch: 'what a step takes to begin',
  'step costs': 'the step costs of this place',
  'start-up': 'how long a start-up takes',
  load: 'the load as a whole',
}
/** What a measurement of each is. */
const MEASURED: Record<Doubted, string> = {
  bandwidth: 'measure step costs there, such as with what finds them in Measure',
  arithmetic: 'measure step costs there with long prompts',
  launch: 'measure step costs there',
  'step costs': 'measure them with more requests, and as many at once as will be relied on',
  'start-up': 'time a few start-ups, stage by stage',
  load: 'take the load from a log or a metrics history',
}
const MOST_SAID = 2

/** How sure a verdict is of its inputs: sentences. */
export function worldsWords(plan: Plan, { settled, of, kept, low, high, deciding }: WorldsReport): string[] {
  const { derived, typed, startUp, load } = doubtOf(plan)
  const off = (share: number) => bare(percent(share))
  const doubts = [
    `derived step costs ${off(derived)}`,
    `typed ones and load tests ${off(typed)}`,
    `stages of a start-up ${off(startUp)}`,
    ...(load > 0 ? [`the load ${off(load)}`] : []),
  ]
  const said = deciding.slice(0, MOST_SAID)
  return [
    `Every promise is kept in ${kept} of ${settled} worlds, head-room aside (in ${off(low)} to ${off(high)} of all, with 95 %).`,
    `In them what is stated is off by chance, in 95 of 100 by at most: ${doubts.join(', ')}; what was found behind measured requests by its own intervals.`,
    ...(said.length === 0
      ? // Of a few worlds of all nothing could: it is said when all have been run.
        settled < of
        ? []
        : ['Nothing that is in doubt decides it more than chance does.']
      : [
          `What decides most is ${said.map((d) => `${NAMES[d.what]} (${off(d.share)} of the spread)`).join(' and ')}: ${MEASURED[said[0].what]}.`,
        ]),
  ]
}
