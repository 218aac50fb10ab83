import TinyQueue from 'tinyqueue'
import { leastCost, type Option } from './option.ts'

interface Entry {
  least: number
  option: Option
}

/**
 * Options in the order of the least that they can cost, ties by enumeration. That changes when something is learnt of an
 * option, which is then to be put in again; what stands in the queue from before is passed over.
 */
export class OpenOptions {
  private readonly queue: TinyQueue<Entry>
  private readonly isOpen: (option: Option) => boolean

  /** @param isOpen asked of every option when its turn comes; once it is not, it never is again unless it is put in anew */
  constructor(options: readonly Option[], isOpen: (option: Option) => boolean) {
    this.isOpen = isOpen
    this.queue = new TinyQueue<Entry>(
      options.map((option) => ({ least: leastCost(option), option })),
      (a, b) => a.least - b.least || a.option.candidate.index - b.option.candidate.index,
    )
  }

  /** Puts in again what something was learnt of. */
  changed(option: Option): void {
    this.queue.push({ least: leastCost(option), option })
  }

  /**
   * The first open options, in order, until `enough` says so; all that cost no more than a limit.
   *
   * @param enough told every one as it comes
   */
  first(enough: (option: Option) => boolean): Option[] {
    const out: Option[] = []
    const seen = new Set<Option>()
    for (let entry = this.queue.pop(); entry !== undefined; entry = this.queue.pop()) {
      const { option, least } = entry
      if (seen.has(option) || least !== leastCost(option) || !this.isOpen(option)) continue
      seen.add(option)
      out.push(option)
      if (enough(option)) break
    }
    for (const option of out) this.changed(option)
    return out
  }
}
