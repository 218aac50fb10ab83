import type { BurstFit } from './burstFit.ts'
import type { GrowthFit } from './growthFit.ts'
import type { SessionFit } from './sessionFit.ts'
import type { SizeFit } from './sizeFit.ts'
import type { WeekFit } from './weekFit.ts'

/** What may be taken from a log, or left. */
export const ASPECTS = {
  week: 'hours and days',
  hours: 'each hour of the week',
  growth: 'growth',
  bursts: 'bursts',
  correlation: 'long prompts with long answers',
  sessions: 'conversations',
} as const
export type Aspect = keyof typeof ASPECTS

/** What one class of a log is like. */
export interface ClassFit {
  name: string
  count: number
  /** of the log */
  seconds: number
  /** mean over the log */
  ratePerSecond: number
  /** undefined for a log of less than a day, or without a calendar */
  week: WeekFit | undefined
  /** requests a second of each hour of the week; undefined for less than six days */
  weekHours: number[] | undefined
  /** undefined for less than two weeks */
  growth: GrowthFit | undefined
  bursts: BurstFit
  input: SizeFit
  /** undefined where the log has no answers */
  output: SizeFit | undefined
  correlation: number
  /** undefined where the log does not say who asked */
  sessions: SessionFit | undefined
  /** of the log, and so the time of what is counted by the hour */
  start: string
  /** arrivals a second in each clock hour of the log: those that begin something, where there are conversations */
  perHour: number[]
  /** what of it is in a plan unless it is left out: what is clearly more than chance */
  clear: Aspect[]
  /** of a metrics history: the usual time between two samples, within which nothing is known */
  stepSeconds?: number
  /** sizes that a metrics history does not say: those of the opening are taken */
  unsaid?: readonly ('input' | 'output')[]
}
