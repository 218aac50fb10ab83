import { CORE_VERSION, writePlan, type Answer, type FrontierPoint } from '@sandclock/core'
import { database, type StoredAnswer } from './database.ts'
import { demoAnswer, demoFrontiers, demoPlan } from './demo.ts'
import { readKeptAnswer, readKeptFrontiers } from './kept.ts'

/** An answer with the points around its options, by service, as far as they were simulated. */
export interface KnownAnswer {
  answer: Answer
  frontiers: Record<string, FrontierPoint[]>
}

/** Which plan, and its text as a file. */
export interface Answered {
  planId: string
  text: string
}

/** A kept answer that is in memory as well. */
export type HeldAnswer = Answered & KnownAnswer
/** That of the demo is known without being kept: another may be kept of its plan. */
export const isKept = (known: KnownAnswer): known is HeldAnswer => 'planId' in known

/**
 * The answer to a plan, if it is known: kept in this browser, or that of the demo.
 *
 * @param unreadable gets a kept answer that can not be read; it is not kept any more
 * @param held what is kept of a plan, where that is known without reading it
 */
export async function knownAnswer(
  asked: Answered,
  unreadable: (stored: StoredAnswer) => Promise<void>,
  held?: HeldAnswer,
): Promise<KnownAnswer | undefined> {
  const kept = held?.planId === asked.planId ? held : await keptAnswer(asked.planId, unreadable)
  if (kept?.text === asked.text) return kept
  if (asked.text !== writePlan(demoPlan)) return undefined
  const [answer, frontiers = {}] = await Promise.all([demoAnswer(), demoFrontiers()])
  return answer && writePlan(answer.plan) === asked.text ? { answer, frontiers } : undefined
}

async function keptAnswer(planId: string, unreadable: (stored: StoredAnswer) => Promise<void>): Promise<HeldAnswer | undefined> {
  const [stored, around] = await Promise.all([database.answers.get(planId), database.frontiers.get(planId)])
  if (!stored) return undefined
  const answer = await readKeptAnswer(stored.answer)
  if (!answer) {
    await database.answers.delete(planId)
    await unreadable(stored)
    return undefined
  }
  // An answer of a former core may lack what is shown of it, and is searched anew.
  if (answer.coreVersion !== CORE_VERSION) return undefined
  const frontiers = around?.planText === stored.planText ? readKeptFrontiers(around.points) : {}
  return { planId, text: stored.planText, answer, frontiers }
}
