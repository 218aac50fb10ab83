import { leastCost, type Option } from './option.ts'

/** Counting all options takes longer than a step of a search where there are more: they are counted every few steps then. */
const COUNTED_AT_ONCE = 4000

/** How many options are open still, for progress. */
export class OpenCount {
  private readonly options: readonly Option[]
  private readonly every: number
  private asked = 0
  private last = { count: 0, least: Infinity }

  constructor(options: readonly Option[]) {
    this.options = options
    this.every = Math.ceil((options.length + 1) / COUNTED_AT_ONCE)
  }

  /** Open options that may cost no more than a limit, and the least that any of them may cost. */
  below(perHour: number, isOpen: (option: Option) => boolean): { count: number; least: number } {
    if (this.asked++ % this.every > 0) return this.last
    this.last = { count: 0, least: Infinity }
    for (const option of this.options) {
      const least = leastCost(option)
      if (least > perHour || !isOpen(option)) continue
      this.last.count++
      this.last.least = Math.min(this.last.least, least)
    }
    return this.last
  }
}
