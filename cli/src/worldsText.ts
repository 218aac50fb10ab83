import {
  rungOf,
  rungsBeside,
  USUAL_WORLDS,
  worldsAndWorth,
  worldsWords,
  worthWords,
  type Answer,
  type Load,
  type Plan,
} from '@sandclock/core'
import { chosenSpecs } from './chosen.ts'
import { ProgressLine } from './progress.ts'
import { refusing } from './refusing.ts'
import { within } from './within.ts'

const MOST_WORLDS = 10_000
const refused = refusing('This can not be drawn.')

/** How many worlds are asked for; undefined where none are. @throws BadInput for what is no such number, or can not be told */
export function worldCount(asked: { worlds?: string | true; json?: boolean }): number | undefined {
  if (asked.worlds === undefined) return undefined
  if (asked.json) throw refused('--worlds', 'is told in words: leave --json out')
  return asked.worlds === true ? USUAL_WORLDS : within(refused, '--worlds', asked.worlds, 'count', 1, MOST_WORLDS)
}

/** In how many worlds what is rented keeps its promises, a line a service. */
export function worldsText(plan: Plan, load: Load, answer: Answer, count: number): string[] {
  return chosenSpecs(plan, answer).map(({ name, chosen }) => {
    const line = new ProgressLine()
    const others = answer.services.filter((s) => s.service === name).flatMap(rungsBeside)
    const steps = worldsAndWorth(plan, name, rungOf(chosen), others, load, count)
    let next = steps.next()
    for (; !next.done; next = steps.next()) {
      const { settled, worth } = next.value
      line.show(`${name}: ${worth ? `what is worth measuring, ${worth.settled}` : settled} of ${count} worlds`)
    }
    line.done()
    const { worth } = next.value
    return `${name} IN WORLDS: ${[...worldsWords(plan, next.value), ...(worth ? worthWords(plan, worth) : [])].join(' ')}`
  })
}
