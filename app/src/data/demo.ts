import type { Answer, FrontierPoint, Plan } from '@sandclock/core'
import demo from '../../../examples/skerry-sound.json'
import { answerOfLines, type Piece } from '../search/pieces.ts'

/** The demo plan as it ships; it can always be had back. To check it here would hold up the first picture: a test has done so. */
export const demoPlan = demo as unknown as Plan // read from a file, whose words the compiler takes for any words

/** The demo's answer, computed when the application was built; undefined when it is not there. */
export const demoAnswer = () =>
  delivered('/demo-answer.jsonl', async (file) =>
    answerOfLines(
      (await file.text()).split('\n'),
      (head) => head as Answer, // written by the same core
      (piece) => piece as Piece,
    ),
  )

/** The points around it, by service, computed with it. */
export const demoFrontiers = () => delivered('/demo-frontiers.json', async (file) => (await file.json()) as Record<string, FrontierPoint[]>)

async function delivered<T>(file: string, read: (file: Response) => Promise<T | undefined>): Promise<T | undefined> {
  try {
    const response = await fetch(file)
    return response.ok ? await read(response) : undefined
  } catch {
    return undefined
  }
}
