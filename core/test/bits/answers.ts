import { recommend } from '../../src/answer/recommend.ts'
import { RandomStream } from '../../src/random/stream.ts'
import { driveHere } from '../../src/search/drive.ts'
import { Load } from '../../src/search/load.ts'
import { boughtPlan, livingPlan, settingsPlan, smallPlan } from '../smallPlan.ts'
import { digestOfText } from './digest.ts'

const MAKERS = { small: smallPlan, living: livingPlan, settings: settingsPlan, bought: boughtPlan }

/** Digests of whole answers to small plans of every sort: whatever a search says, to the last digit. */
export function answerDigests(): Record<string, string> {
  return Object.fromEntries(
    Object.entries(MAKERS).map(([name, make]) => {
      const load = new Load(make(new RandomStream(3, 'bits', name), 3))
      const { services } = driveHere(recommend(load.plan, load), load)
      // What callers met came later than the digests that are kept, which show that nothing else of answers moved with it.
      return [name, digestOfText(services.map(({ met: _, ...s }) => s))]
    }),
  )
}
