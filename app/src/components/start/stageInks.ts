import type { StageName } from '@sandclock/core'
import type { Ink } from '../../charts/ink.ts'

/** Texture as well as colour, so that stages can be told apart without it. */
export const STAGE_INKS: Record<StageName, Ink> = {
  machine: { colour: '--ink', hatch: 'dots', under: '--leaf' },
  image: { colour: '--faded', hatch: 'slant', under: '--leaf' },
  weights: { colour: '--sand' },
  load: { colour: '--water', hatch: 'dense', under: '--leaf' },
  warmup: { colour: '--water', hatch: 'level', under: '--water-soft' },
}
