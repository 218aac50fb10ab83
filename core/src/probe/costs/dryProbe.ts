import { LiveRun } from '../../run/liveRun.ts'
import type { Asking } from '../shape.ts'
import { readied, type Served } from './replay.ts'
import { specOfSteps, wayOf } from '../../service/measured/stepCoefficients.ts'

/**
 * Callers at once who come again when they have their answer, as a probe sends them, through the engine: how many are answered a second
 * from the first request until the last is answered.
 *
 * @param values step costs, in their order
 * @param asking sizes of all requests, in the order in which they are sent
 * @param clients callers at once, 1…
 */
export function pressedPerSecond(values: readonly number[], served: Served, asking: readonly Asking[], clients: number): number {
  const { plan, of } = readied(specOfSteps(values), served)
  const way = wayOf(values)
  // They are on their way for the same time, so that who was answered first is there first.
  const coming: number[] = Array.from({ length: Math.min(clients, asking.length) }, () => way)
  let [sent, answered, last] = [coming.length, 0, 0]
  const ended = (_: number, now: number) => {
    answered++
    last = now
    if (sent >= asking.length) return
    sent++
    coming.push(now + way)
  }
  const run = new LiveRun(plan, of, { tokens: () => undefined, ended }, asking.length)
  let arrived = 0
  while (answered < asking.length) {
    const due = coming.length > arrived ? coming[arrived] : Infinity
    const next = Math.min(run.nextTime(), due)
    if (next === Infinity) break
    while (arrived < coming.length && coming[arrived] <= next) {
      const { input, output } = asking[arrived]
      run.arrive(coming[arrived++], 0, input, output)
    }
    run.advance(next)
  }
  return answered / last
}
