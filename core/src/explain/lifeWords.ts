import type { LimitedBy } from '../candidate/candidate.ts'
import { Stage, type LifeRecord } from '../life/startRules.ts'
import type { Cause } from '../life/cause.ts'
import { causeWords } from './causeWords.ts'
import { LIMIT_WORDS } from './limitWords.ts'
import { clock, duration } from '../units/duration.ts'
import { grouped } from '../units/number.ts'

/** One thing that happened to a fleet, as a person would tell it. */
export interface Happening {
  seconds: number
  words: string
}

const ORDINALS = ['no', 'first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth', 'tenth']
const ordinal = (n: number) => ORDINALS[n] ?? `${n}th`

/** What is known beside the record of a fleet. */
export interface Around {
  startIso: string
  /** how many requests were late between two times; nobody is if left out */
  late?: (fromSeconds: number, untilSeconds: number) => number
  limitedBy: LimitedBy
}

/**
 * What happened in a window of time, in order: who was asked for and why, when they were ready, which stage took longest
 * and how many were late meanwhile, who could not be placed and why, who went and was lost.
 */
export function happenings(
  life: LifeRecord,
  { startIso, late = () => 0, limitedBy }: Around,
  fromSeconds: number,
  untilSeconds: number,
): Happening[] {
  const at = (seconds: number) => clock(startIso, seconds, true)
  const asked = new Map<number, { seconds: number; number: number; cause: Cause; stages: [stage: number, seconds: number][] }>()
  let copies = 0
  const out: Happening[] = []
  for (const { replica, stage, seconds, cause } of life.events) {
    const start = asked.get(replica)
    if (stage === Stage.unplaced && cause === 'timed-out')
      out.push({ seconds, words: `${at(seconds)} a start-up took longer than its time-out and begins anew` })
    else if (stage === Stage.unplaced) asked.set(replica, { seconds, number: ++copies, cause, stages: [] })
    else if (stage === Stage.ready && start) {
      out.push({
        seconds: start.seconds,
        words: `${at(start.seconds)} ${ordinal(start.number)} copy asked for (${causeWords(start.cause)}); ready ${at(seconds).slice(-8)}, after ${duration(seconds - start.seconds)}${longest(start, seconds)}${meanwhile(late(start.seconds, seconds))}`,
      })
      asked.delete(replica)
    } else if (stage === Stage.ready)
      out.push({ seconds, words: `${at(seconds)} ${ordinal(++copies)} copy is there: it runs from before the start` })
    else if (stage === Stage.none) {
      copies--
      if (start)
        out.push({
          seconds: start.seconds,
          words: `${at(start.seconds)} a copy asked for (${causeWords(start.cause)}) and given up ${at(seconds).slice(-8)} before it was ready: ${causeWords(cause)}`,
        })
      else out.push({ seconds, words: `${at(seconds)} a copy is gone: ${causeWords(cause)}` })
      asked.delete(replica)
    }
    start?.stages.push([stage, seconds])
  }
  for (const { seconds, number, cause, stages } of asked.values()) {
    const unplaced = stages.length === 0
    out.push({
      seconds,
      words: `${at(seconds)} ${ordinal(number)} copy asked for (${causeWords(cause)}); ${unplaced ? `it could not be placed: no more machines are to be had, by the ${LIMIT_WORDS[limitedBy].name}${meanwhile(late(seconds, untilSeconds))}` : 'it is not ready by the end'}`,
    })
  }
  return out.filter((h) => h.seconds >= fromSeconds && h.seconds < untilSeconds).sort((a, b) => a.seconds - b.seconds)
}

const meanwhile = (late: number) =>
  late === 0 ? '' : `; ${grouped(late, 0)} ${late === 1 ? 'request was' : 'requests were'} late meanwhile`

const NAMES: Record<number, string> = {
  [Stage.unplaced]: 'waiting for room',
  [Stage.machine]: 'the machine',
  [Stage.image]: 'the image',
  [Stage.weights]: 'the weights',
  [Stage.load]: 'loading',
  [Stage.warmup]: 'warming up',
}

function longest(start: { seconds: number; stages: [stage: number, seconds: number][] }, ready: number): string {
  const marks: [number, number][] = [[Stage.unplaced, start.seconds], ...start.stages]
  const spans = marks.map(([stage, from], i) => ({ stage, seconds: (marks[i + 1]?.[1] ?? ready) - from }))
  const most = spans.reduce((a, b) => (b.seconds > a.seconds ? b : a))
  return most.seconds > 0 ? `, most of it ${NAMES[most.stage] ?? 'other'} (${duration(most.seconds)})` : ''
}
