import { setImmediate } from 'node:timers/promises'
import type { Network } from './network.ts'
import { forget, SHAPE, type Cache } from './network.ts'

/** A request that is being answered. */
interface Sequence {
  prompt: readonly number[]
  wanted: number
  made: number
  token: number
  cache: Cache | undefined
  tell: (token: number) => void
  done: () => void
}

/** Prompt tokens of one prompt step; the first is admitted whatever its length. */
const MOST_PREFILL_TOKENS = 8192

/**
 * Iteration-level batching, whole prompts: between two steps those that are done leave and those that wait come in. Whoever came in has a
 * prompt step of its own, at whose end all of them have their first token; otherwise every sequence gains one.
 */
export class Batching {
  private readonly network: Network
  private readonly most: number
  private readonly waiting: Sequence[] = []
  private active: Sequence[] = []
  private going = false

  /** @param most sequences side by side */
  constructor(network: Network, most: number) {
    this.network = network
    this.most = most
  }

  /** @returns when the last token was told, or when `gone` says that nobody listens */
  ask(prompt: readonly number[], wanted: number, tell: (token: number) => void): Promise<void> {
    return new Promise((done) => {
      this.waiting.push({ prompt: prompt.slice(-SHAPE.contextTokens), wanted, made: 0, token: 0, cache: undefined, tell, done })
      if (!this.going) void this.go()
    })
  }

  private async go(): Promise<void> {
    this.going = true
    while (this.waiting.length + this.active.length > 0) {
      const admitted = this.admit()
      if (admitted.length > 0) for (const s of admitted) Object.assign(s, this.network.prefill(s.prompt))
      const stepped = admitted.length > 0 ? admitted : this.active
      if (admitted.length === 0)
        this.network.decode(stepped.map((s) => ({ cache: s.cache!, token: s.token }))).forEach((t, i) => (stepped[i].token = t))
      else this.active.push(...admitted)
      for (const s of stepped) {
        s.made++
        s.tell(s.token)
      }
      this.leave()
      // What was told goes out, and who came is heard.
      await setImmediate()
    }
    this.going = false
  }

  private admit(): Sequence[] {
    const admitted: Sequence[] = []
    let tokens = 0
    while (this.waiting.length > 0 && this.active.length + admitted.length < this.most) {
      tokens += this.waiting[0].prompt.length
      if (admitted.length > 0 && tokens > MOST_PREFILL_TOKENS) break
      admitted.push(this.waiting.shift()!)
    }
    return admitted
  }

  private leave(): void {
    const [done, left] = [this.active.filter((s) => s.made >= s.wanted), this.active.filter((s) => s.made < s.wanted)]
    for (const s of done) {
      if (s.cache) forget(s.cache)
      s.done()
    }
    this.active = left
  }
}
