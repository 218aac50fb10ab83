import { setImmediate } from 'node:timers/promises'
import { SHAPE, type Cache, type Network } from './network.ts'

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

  /** @returns when the last token was told */
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
      if (admitted.length > 0) await this.read(admitted)
      else await this.write(this.active)
      const stepped = admitted.length > 0 ? admitted : this.active
      this.active = admitted.length > 0 ? [...this.active, ...admitted] : this.active
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

  private async read(admitted: readonly Sequence[]): Promise<void> {
    for (const s of admitted) Object.assign(s, await this.network.prefill(s.prompt))
  }

  private async write(active: readonly Sequence[]): Promise<void> {
    const tokens = await this.network.decode(active.map(({ cache, token }) => ({ cache: cache!, token })))
    tokens.forEach((token, i) => (active[i].token = token))
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
    for (const s of done) s.done()
    this.active = left
  }
}
