import { CORE_VERSION, writePlan, type Answer, type FrontierPoint } from '@sandclock/core'
import { database, type StoredAnswer } from './database.ts'
import { demoAnswer, demoFrontiers, demoPlan } from './demo.ts'
import { readKeptAnswer, readKeptFrontiers } from './kept.ts'

/** An answer with the points around its options, by service, as far as they were simulated. */
export interface KnownAnswer {
  answer: Answer
  frontiers: Record<string, FrontierPoint[]>
}

/**
 * The answer to a plan, if it is known: kept in this browser, or that of the demo.
 *
 * @param text the plan as a file
 * @param unreadable gets a kept answer that can not be read; it is not kept any more
 */
export async function knownAnswer(
  planId: string,
  text: string,
  unreadable: (stored: StoredAnswer) => Promise<void>,
): Promise<KnownAnswer | undefined> {
  const stored = await database.answers.get(planId)
  // An answer of a former core may lack what is shown of it, and is searched anew.
  const kept = stored && readKeptAnswer(stored.answer)
  if (stored && !kept) {
    await database.answers.delete(planId)
    await unreadable(stored)
  }
  if (stored?.planText === text && kept?.coreVersion === CORE_VERSION)
    return { answer: kept, frontiers: readKeptFrontiers(stored.frontiers) }
  if (text !== writePlan(demoPlan)) return undefined
  const [answer, frontiers = {}] = await Promise.all([demoAnswer(), demoFrontiers()])
  return answer && writePlan(answer.plan) === text ? { answer, frontiers } : undefined
}
