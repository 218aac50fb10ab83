import { skerrySound } from '../../examples/make/skerrySound.ts'
import { SearchJobs, LIMITS } from '../src/searchJobs.ts'

/**
 * Begins and stops searches one after the other, half of them by nobody listening any more, and prints what memory is held after the 20th
 * and after the last. Run with --expose-gc.
 */
const [worker, count] = process.argv.slice(2)
const jobs = new SearchJobs(2, { ...LIMITS, unheardSeconds: 0 }, new URL(worker))
const plan = { ...skerrySound, horizon: { ...skerrySound.horizon, seconds: 6 * 3600 } }
/** What is held once everything is collected that nothing holds. */
const held = () => {
  globalThis.gc?.()
  return process.memoryUsage().rss / 1e6
}
let early = 0
for (let i = 1; i <= Number(count); i++) {
  const id = jobs.begin({ ...plan, seed: i }, String(i))
  if (id === undefined) throw new Error('no room for another search')
  await new Promise<void>((begun) => {
    const leave = jobs.listen(id, ({ event, data }) => {
      if (event === 'failure' || event === 'answer') throw new Error(`it ended by itself: ${event}`)
      if (data.simulations < 2) return
      queueMicrotask(() => leave?.())
      begun()
    })
  })
  if (i % 2 === 0) jobs.stop(id)
  while (jobs.running > 0) await new Promise((on) => setTimeout(on, 1))
  if (i === 20) early = held()
}
process.stdout.write(`${JSON.stringify({ early, late: held() })}\n`)
process.exit()
