const NONE = -1

/**
 * Lines of waiting requests, one for each owner, all in one doubly linked list: a request waits in one line at most.
 * Within a line a higher level (lower number) comes first; within a level, first in first out.
 */
export class Lines {
  /** how many wait in each line */
  readonly length: Int32Array
  private readonly levels: number
  private readonly head: Int32Array
  private readonly tail: Int32Array
  private readonly next: Int32Array
  private readonly previous: Int32Array
  private readonly levelOf: Uint8Array
  private readonly classIndex: Uint8Array

  /**
   * @param levelOf level of each class
   * @param classIndex class of each request
   * @param links room for as many requests
   */
  constructor(owners: number, levelOf: Uint8Array, classIndex: Uint8Array, links: { next: Int32Array; previous: Int32Array }) {
    this.levels = levelOf.reduce((most, l) => Math.max(most, l + 1), 1)
    this.head = new Int32Array(owners * this.levels).fill(NONE)
    this.tail = new Int32Array(owners * this.levels).fill(NONE)
    this.length = new Int32Array(owners)
    this.next = links.next
    this.previous = links.previous
    this.levelOf = levelOf
    this.classIndex = classIndex
  }

  level(request: number): number {
    return this.levels === 1 ? 0 : this.levelOf[this.classIndex[request]]
  }

  /** Puts a request at the end of its level. */
  push(owner: number, request: number): void {
    const line = owner * this.levels + this.level(request)
    const last = this.tail[line]
    this.next[request] = NONE
    this.previous[request] = last
    if (last === NONE) this.head[line] = request
    else this.next[last] = request
    this.tail[line] = request
    this.length[owner]++
  }

  /** Puts a request before the others of its level. */
  putBack(owner: number, request: number): void {
    const line = owner * this.levels + this.level(request)
    const first = this.head[line]
    this.previous[request] = NONE
    this.next[request] = first
    if (first === NONE) this.tail[line] = request
    else this.previous[first] = request
    this.head[line] = request
    this.length[owner]++
  }

  /** @returns the request at the head, or −1 */
  peek(owner: number): number {
    if (this.levels === 1) return this.head[owner]
    for (let line = owner * this.levels; line < (owner + 1) * this.levels; line++) if (this.head[line] !== NONE) return this.head[line]
    return NONE
  }

  /** @returns the request that comes after one in its line, or −1 */
  after(owner: number, request: number): number {
    if (this.next[request] !== NONE || this.levels === 1) return this.next[request]
    for (let line = owner * this.levels + this.level(request) + 1; line < (owner + 1) * this.levels; line++)
      if (this.head[line] !== NONE) return this.head[line]
    return NONE
  }

  /** Takes the head out; the line must not be empty. */
  shift(owner: number): number {
    const request = this.peek(owner)
    this.remove(owner, request)
    return request
  }

  /** Takes a request out of the line in which it waits. */
  remove(owner: number, request: number): void {
    const line = owner * this.levels + this.level(request)
    const before = this.previous[request]
    const after = this.next[request]
    if (before === NONE) this.head[line] = after
    else this.next[before] = after
    if (after === NONE) this.tail[line] = before
    else this.previous[after] = before
    this.length[owner]--
  }

  /** The smallest of `value` over the heads of all levels: of those who waited longest, since levels are in order. */
  leastOverHeads(owner: number, value: Float64Array): number {
    let least = Infinity
    for (let line = owner * this.levels; line < (owner + 1) * this.levels; line++) {
      if (this.head[line] !== NONE && value[this.head[line]] < least) least = value[this.head[line]]
    }
    return least
  }
}

/** Level of each class, 0 for the highest priority. */
export function levelsOf(priorities: readonly number[]): Uint8Array {
  const order = [...new Set(priorities)].sort((a, b) => b - a)
  return Uint8Array.from(priorities, (p) => order.indexOf(p))
}
