import { nextTask } from './composables/frames.ts'
import './styles/base.css'

/** What reads plans, in two parts, what holds them and what shows them each set themselves up in a task: one would hold up the page. */
async function main(): Promise<void> {
  await import('@sandclock/core/plan/modelSchema')
  await nextTask()
  await import('./data/mend.ts')
  await nextTask()
  await import('./stores/planStore.ts')
  await nextTask()
  const { start } = await import('./start.ts')
  await start()
}

void main()
