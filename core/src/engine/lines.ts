const NONE = -1

/**
 * First-in-first-out lines of waiting requests, all in one linked list array: a request waits in one line at most.
 * A request that left its line from the middle is skipped when its turn comes.
 */
export class Lines {
  private readonly head: Int32Array
  private readonly tail: Int32Array
  private readonly next: Int32Array
  /** how many wait in each line, those who left not counted */
  readonly length: Int32Array
  private readonly outcome: Uint8Array

  /** @param outcome by request; anything but 0 means that it no longer waits */
  constructor(lines: number, outcome: Uint8Array) {
    this.head = new Int32Array(lines).fill(NONE)
    this.tail = new Int32Array(lines).fill(NONE)
    this.length = new Int32Array(lines)
    this.next = new Int32Array(outcome.length)
    this.outcome = outcome
  }

  push(line: number, request: number): void {
    this.next[request] = NONE
    if (this.head[line] === NONE) this.head[line] = request
    else this.next[this.tail[line]] = request
    this.tail[line] = request
    this.length[line]++
  }

  /** @returns the request at the head, or −1 */
  peek(line: number): number {
    let request = this.head[line]
    while (request !== NONE && this.outcome[request] !== 0) request = this.next[request]
    this.head[line] = request
    return request
  }

  /** Takes the head out; the line must not be empty. */
  shift(line: number): number {
    const request = this.peek(line)
    this.head[line] = this.next[request]
    this.length[line]--
    return request
  }

  /** Counts out a request whose outcome was just set while it waited. */
  left(line: number): void {
    this.length[line]--
  }
}
