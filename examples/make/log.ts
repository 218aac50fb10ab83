import { checkPlan, generateRequests, type Plan } from '@sandclock/core'
import { skerrySound } from './skerrySound.ts'

const SEED = 20_270_301

/**
 * A made-up log of the demo's two token classes over one week: ISO times to the millisecond, tokens in and out. The
 * same seed gives the same log.
 */
export function exampleLog(): string {
  const classes = skerrySound.classes.slice(0, 2)
  const plan: Plan = checkPlan({ ...skerrySound, classes, services: skerrySound.services.slice(0, 2) })
  const requests = generateRequests(plan, { seed: SEED })
  const start = Date.parse(plan.horizon.start)
  const lines = ['arrival,class,input_tokens,output_tokens']
  for (let i = 0; i < requests.count; i++) {
    const time = new Date(start + Math.round(requests.at[i] * 1000)).toISOString()
    lines.push(`${time},${classes[requests.classIndex[i]].name},${requests.input[i]},${requests.output[i]}`)
  }
  return `${lines.join('\n')}\n`
}
