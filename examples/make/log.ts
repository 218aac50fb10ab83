import { checkPlan, generateRequests, type Plan, type Requests } from '@sandclock/core'
import { skerrySound } from './skerrySound.ts'

const SEED = 20_270_301

/** A week of the demo's two token classes, the same from the same seed. */
export function exampleRequests(): { requests: Requests; names: string[]; startMs: number } {
  const classes = skerrySound.classes.slice(0, 2)
  const plan: Plan = checkPlan({ ...skerrySound, classes, services: skerrySound.services.slice(0, 2) })
  return { requests: generateRequests(plan, { seed: SEED }), names: classes.map((c) => c.name), startMs: Date.parse(plan.horizon.start) }
}

/** A made-up log of it: ISO times to the millisecond, tokens in and out. */
export function exampleLog(): string {
  const { requests, names, startMs } = exampleRequests()
  const lines = ['arrival,class,input_tokens,output_tokens']
  for (let i = 0; i < requests.count; i++) {
    const time = new Date(startMs + Math.round(requests.at[i] * 1000)).toISOString()
    lines.push(`${time},${names[requests.classIndex[i]]},${requests.input[i]},${requests.output[i]}`)
  }
  return `${lines.join('\n')}\n`
}
