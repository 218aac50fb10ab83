import { checkPlan, type Answer, type Plan } from '@sandclock/core'
import demo from '../../../examples/skerry-sound.json'

/** The demo plan as it ships; it can always be had back. Checking it puts its fields in the order in which plans are written. */
export const demoPlan: Plan = checkPlan(demo)

/** The demo's answer, computed when the application was built; undefined when it is not there. */
export async function demoAnswer(): Promise<Answer | undefined> {
  try {
    const response = await fetch('/demo-answer.json')
    return response.ok ? ((await response.json()) as Answer) : undefined // written by the same core
  } catch {
    return undefined
  }
}
