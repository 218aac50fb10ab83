/**
 * Work that goes on here while somebody listens to it. Who comes back hears what he missed; when nobody has listened for a while, as
 * after a page was closed, it is stopped.
 */
export abstract class Heard<Said> {
  private readonly listeners = new Set<(said: Said) => void>()
  private unheard: NodeJS.Timeout | undefined
  private readonly unheardSeconds: number
  done = false
  stop: () => void = () => undefined

  constructor(unheardSeconds: number) {
    this.unheardSeconds = unheardSeconds
    this.startUnheard()
  }

  /** What somebody who begins to listen is told first. */
  protected abstract soFar(): readonly Said[]
  /** Remembers what is said. @returns whether it was the last thing */
  protected abstract note(said: Said): boolean

  say(said: Said): void {
    if (this.done) return
    this.done = this.note(said)
    for (const listener of this.listeners) listener(said)
    if (this.done) clearTimeout(this.unheard)
  }

  /** Lets go of all that it took: what is done is kept for what it said. */
  release(): void {
    clearTimeout(this.unheard)
    this.stop = () => undefined
  }

  /** Hears what was said until now, and everything from now on. @returns how to stop listening */
  listen(listener: (said: Said) => void): () => void {
    clearTimeout(this.unheard)
    this.listeners.add(listener)
    for (const said of this.soFar()) listener(said)
    return () => {
      this.listeners.delete(listener)
      if (this.listeners.size === 0 && !this.done) this.startUnheard()
    }
  }

  private startUnheard(): void {
    clearTimeout(this.unheard)
    this.unheard = setTimeout(() => this.stop(), this.unheardSeconds * 1000)
    this.unheard.unref()
  }
}
