import type { Certainty } from '../measure/certainty.ts'
import type { Interval } from '../measure/interval.ts'
import type { Target } from '../plan/schema.ts'
import { measureWords } from './targetWords.ts'

/** A target and what the draws said of it. */
interface Said {
  className: string
  target: Target
  certainty: Certainty
  /** null where nothing counted */
  interval: Interval | null
}

const isUnmeasured = ({ certainty, interval }: Pick<Said, 'certainty' | 'interval'>) => certainty === 'meets' && interval === null

/** How sure it is that a target is met; a promise that counts as kept because nothing counted is called that. */
export function certaintyWords(said: Pick<Said, 'certainty' | 'interval'>): string {
  return isUnmeasured(said) ? 'not measured' : said.certainty
}

/** Promises that count as kept because there was nothing to measure, a sentence each with the reason. */
export function unmeasuredWords(targets: readonly Said[]): string[] {
  return targets
    .filter(isUnmeasured)
    .map(({ className, target }) => `${className}, ${measureWords(target)}, is not measured and counts as kept: ${reason(target)}.`)
}

function reason(target: Target): string {
  if ('over' in target && target.over === 'worst-hour') return 'in no hour after the warm-up come enough requests for that percentile'
  return 'no request that could tell it arrives after the warm-up'
}
