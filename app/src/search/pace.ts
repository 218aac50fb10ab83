/** Options of which one knows the pace too little to tell a time. */
const TOO_FEW = 3

/**
 * Time left by the pace since options were first heard of: those that need no simulation are settled by then.
 *
 * @param now in seconds
 * @returns what says it for each progress: seconds; null until the pace is known
 * @example const left = paceOf(clock); left({ settled: 0, total: 10 }) // null; after 4 s and 5 settled: 4
 */
export function paceOf(now: () => number): (progress: { settled: number; total: number }) => number | null {
  let first: { settled: number; at: number } | undefined
  return ({ settled, total }) => {
    first ??= { settled, at: now() }
    const done = settled - first.settled
    return done < TOO_FEW ? null : ((now() - first.at) / done) * (total - settled)
  }
}
