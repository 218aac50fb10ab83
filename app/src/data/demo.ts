import { checkPlan, type Answer, type FrontierPoint, type Plan } from '@sandclock/core'
import demo from '../../../examples/skerry-sound.json'

/** The demo plan as it ships; it can always be had back. Checking it puts its fields in the order in which plans are written. */
export const demoPlan: Plan = checkPlan(demo)

/** The demo's answer, computed when the application was built; undefined when it is not there. */
export const demoAnswer = () => delivered<Answer>('/demo-answer.json')

/** The points around it, by service, computed with it. */
export const demoFrontiers = () => delivered<Record<string, FrontierPoint[]>>('/demo-frontiers.json')

async function delivered<T>(file: string): Promise<T | undefined> {
  try {
    const response = await fetch(file)
    return response.ok ? ((await response.json()) as T) : undefined // written by the same core
  } catch {
    return undefined
  }
}
