/** Those who come at a time that the run itself decides, by (time, request): retries and followers. A binary heap. */
export class Comings {
  private readonly time: number[] = []
  private readonly request: number[] = []

  firstTime(): number {
    return this.time.length === 0 ? Infinity : this.time[0]
  }

  /** the request that comes first; there must be one */
  first(): number {
    return this.request[0]
  }

  push(time: number, request: number): void {
    let i = this.time.length
    this.time.push(time)
    this.request.push(request)
    while (i > 0) {
      const up = (i - 1) >> 1
      if (!this.before(time, request, up)) break
      this.move(up, i)
      i = up
    }
    this.time[i] = time
    this.request[i] = request
  }

  /** Takes out the first. */
  pop(): number {
    const out = this.request[0]
    const time = this.time.pop()
    const request = this.request.pop()
    const size = this.time.length
    if (size === 0 || time === undefined || request === undefined) return out
    let i = 0
    for (;;) {
      let down = 2 * i + 1
      if (down >= size) break
      if (down + 1 < size && this.before(this.time[down + 1], this.request[down + 1], down)) down++
      if (this.before(time, request, down)) break
      this.move(down, i)
      i = down
    }
    this.time[i] = time
    this.request[i] = request
    return out
  }

  private before(time: number, request: number, place: number): boolean {
    return time < this.time[place] || (time === this.time[place] && request < this.request[place])
  }

  private move(from: number, to: number): void {
    this.time[to] = this.time[from]
    this.request[to] = this.request[from]
  }
}
