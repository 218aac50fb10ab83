import type { Answer, FrontierPoint, Plan } from '@sandclock/core'
import demo from '../../../examples/skerry-sound.json'

/** The demo plan as it ships; it can always be had back. To check it here would hold up the first picture: a test has done so. */
export const demoPlan = demo as unknown as Plan // read from a file, whose words the compiler takes for any words

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
