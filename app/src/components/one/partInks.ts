import type { PartName } from '@sandclock/core'
import type { Ink } from '../../charts/ink.ts'
import { STAGE_INKS } from '../start/stageInks.ts'

/** What a request goes through, and what is paid beside it: those of a start-up as the view of start-ups has them. */
export const PART_INKS: Record<PartName | 'billing', Ink> = {
  ...STAGE_INKS,
  there: { colour: '--heather' },
  back: { colour: '--heather' },
  wait: { colour: '--rust', hatch: 'slant', under: '--leaf' },
  prompt: { colour: '--moss' },
  answer: { colour: '--water' },
  work: { colour: '--water' },
  kept: { colour: '--faded', hatch: 'level', under: '--leaf' },
  billing: { colour: '--rule' },
}
